"""The only threads of the program: long work, frames for the picture, sound.

Every QThread is given a name before it starts. A nameless one is named by Qt from its own start function, by way of the class's Python
meta-object, which is not safe there: PySide6 6.11 crashes now and then when the main thread makes another object at that moment.
"""
