"""The server: HTTP in front of the application. No rule of the job lives here.

* `app` puts it together; one module a stage holds its addresses
* `running` finds what a request is about; `sending` says what it led to; `events` is news to open tabs
* `packing` sends arrays as bytes; `problems` turns errors into RFC 9457 problem details
"""
