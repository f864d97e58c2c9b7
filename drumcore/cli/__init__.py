"""The command `zesty`. Each verb is one module."""
