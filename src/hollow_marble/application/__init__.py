"""What can be done with a project, whoever asks for it: the server, the command line, the demo.

* `workspace` holds what is shared: the library, the pixels of sheets, bodies worked out, news
* `editing` is the only way to an edit: worked out on the head, checked, appended, told
* `amending` completes an edit that says only what was changed
* `answers` says what an edit changed, as small as it is
* `forms`, `studios` and `sheets` hold the rules of each kind of document

Routes translate; the rules are here and below.
"""
