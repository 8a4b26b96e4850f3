"""Everything of an organisation in one file, sealed with a passphrase, and back out of it.

A sealed file is a tar with `manifest.json`, a file of PostgreSQL's COPY text for each table, and `digests.json`.
"""
