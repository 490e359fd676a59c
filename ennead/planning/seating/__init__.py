"""Seating: every demand of a session on a socket, by hard rules and ordered aims, exactly.

Here may live the problem as plain numbers, its classes, the linear model over them, and the way back to
concrete sockets. Nothing here knows a studio but `of_studio`.
"""
