"""The JSON contracts: what the command line and the web API take and give, the same for both.

Pydantic models describe the shape (unknown fields, types, missing parts are refused here); the core refuses values that
can't be meant. Every request has one way into the core and every result one way out.
"""
