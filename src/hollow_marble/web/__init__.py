"""The server: HTTP in front of documents, jobs and the store. No rule of the job lives here.

* `app` puts it together; one module a stage holds its addresses
* `services` are the things requests share; `events` is news to open tabs
* `packing` sends arrays as bytes; `problems` turns errors into RFC 9457 problem details
"""
