"""The command `zesty`, a file a verb."""
