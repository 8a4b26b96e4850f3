"""The line of revisions of a document, and any two states of documents held against each other."""
