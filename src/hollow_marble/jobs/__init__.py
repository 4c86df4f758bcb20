"""Long work beside the server.

* `framing` passes messages between processes
* `render_worker` is the process that traces pictures
* `tracer_process` starts it, chooses its variant and brings it back when it dies
* `darkroom` is the queue of takes
"""
