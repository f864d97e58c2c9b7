"""How long a browser may cache what is named by its content."""

FOREVER = "public, max-age=31536000, immutable"
