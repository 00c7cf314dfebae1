"""Settings, addresses, server, limits, health, request log.

gunicorn       gunicorn
health         A plain answer for the start script, and the pages for what is missing or broken
limits         What a request may be before it is read, and that no page of a person is kept by anything between
metrics        Figures for whoever watches
request_log    Every request has a reference
runner         Test runner that ends with one plain line
settings       Settings
test_settings  Settings of the test suite
worker         A worker that lets nobody keep it waiting
wsgi           WSGI entry point
"""
