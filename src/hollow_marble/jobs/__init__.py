"""Long work beside the server: takes, probes, exports, whatever is to come.

* `task` is one piece of long work: progress, time left, priority, cancel, limit, the sentence it fails with
* `executor` holds the queue and watches over what runs: one mechanism for all of it
* `transport` says where work is done; `local` does it in processes of this machine, a cluster would be one more
* `messages` is what a worker and its transport say to each other
* `worker` is such a process; `rendering` and `geometry` are its trades
* `darkroom` is the takes: long work that is kept in the project
"""
