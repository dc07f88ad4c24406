"""The heart: values in, values out. ``core.simulate.simulate`` is its front door.

What may be imported here, and the path of one plan through it, stand in README.md beside this.
"""
