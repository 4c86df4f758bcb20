"""One project, one SQLite file: documents, their edits, assets, takes.

* `database` opens a file, migrates it, hands out connections
* `ledger` appends edits and moves heads
* `assets` keeps binary payloads by SHA-256
* `takes` records pictures and how they came about
* `library` finds the project files in a data folder
"""
