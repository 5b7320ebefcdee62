"""Voice: what is said when, the mouths that say it, and the rules by which they are exposed (rules 7.1 and
7.2)."""
