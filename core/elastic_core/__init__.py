"""The rules of motion and time. No Django, no HTTP, no clock."""
