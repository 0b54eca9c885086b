"""Paper: cards, wall charts, the morning's sheet, a ledger's page, checklists, and what one tells a parent or a luthier.

Everything is drawn in the app's own type and manner, black on white, in points: as SVG, or as PDF with its fonts embedded.
"""
