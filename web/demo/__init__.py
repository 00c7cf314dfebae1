"""The made-up projects on the Merrow coast, made through the services.

logs     What the demo has logged
people   The demo's firm
studies  What the demo has compared
"""
