"""Modules: sections that were tried once and are taken into many questionnaires."""
