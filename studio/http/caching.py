"""How long what is named by its content may be kept by a browser."""

FOREVER = "public, max-age=31536000, immutable"
