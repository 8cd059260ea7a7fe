"""Which, and how sure: schools of judging, chance, clocks at equal servings, sentences that stand on
records.
"""
