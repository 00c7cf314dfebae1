"""Firms: members, roles, invitations.

models    Firms
services  Firms founded
"""
