"""The practice room: a player, an instrument, a bow, a room and a phone, all made up, filmed with exact truth.

It shares nothing with the measuring but the table of instruments: its own shapes, projection and light, so that it can contradict it.
Lengths are millimetres, in the instrument's frame (``core.instrument.model``), angles degrees, colours linear shares of white.
"""
