"""What a project is made of: documents, and the edits that change them.

A document is an immutable pydantic model. An edit is a small model with a `kind`, its parameters, a `sentence()` a
designer can read in the ledger, and `applied_to(document)`, which returns the next document and touches nothing else.
`kinds` lists the four documents and joins each with its edits.
"""
