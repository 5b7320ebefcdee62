"""Listening: what a recogniser makes of a sound, in a process of its own. The only place that knows one."""
