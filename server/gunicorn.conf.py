"""How the server runs: its processes and their threads. Read by gunicorn from the folder it starts in."""

import os

worker_class = "config.front.Front"
workers = int(os.environ.get("HOURS_PROCESSES", "2"))
threads = int(os.environ.get("HOURS_THREADS", "12"))
# A process that gives no sign of life for so long is ended and followed by another.
timeout = 60
graceful_timeout = 20
control_socket_disable = True
