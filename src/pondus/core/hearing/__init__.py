"""Hearing: from sound to a reading, or to a refusal with its reason.

Conventions: sound is a one-dimensional float array of one channel, full scale ±1, with its rate in Hz; times in
seconds; levels in dB re full scale. A frame is a short look at the sound; a span is a run of frames.

It may import `fifths`, `instruments` and `pitch`; nothing in it judges what to do. Begin with `hear` for a recording,
`live` for sound as it comes in.
"""
