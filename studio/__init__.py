"""The studio: stores kits and recordings, serves them over HTTP, and runs jobs. All rules about drums are in
`drumcore`.
"""
