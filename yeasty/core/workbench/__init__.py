"""The workbench: every calculator by itself, with fields as a cook fills them in and answers in words and
numbers.
"""
