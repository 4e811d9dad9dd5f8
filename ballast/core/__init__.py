"""The rules of the job: pure functions on frozen values. No framework, no clock, no I/O.

Canonical units everywhere in here: kPa (gauge unless the name says absolute), kg, degrees C, m.
"""
