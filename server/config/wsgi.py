"""What gunicorn serves."""

import gc
import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
application = get_wsgi_application()
# What is loaded by now stays for good: large answers need not look through it for rubbish.
gc.collect()
gc.freeze()
