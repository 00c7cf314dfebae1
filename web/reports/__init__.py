"""Letterheads, and reports as they were issued.

models    Letterheads, and reports as they were issued
pdf       HTML to PDF
services  Reports issued, read, opened to a client and closed again
tasks     Work for workers
views     A client's page
"""
