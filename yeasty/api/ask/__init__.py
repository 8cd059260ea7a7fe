"""Ask: question, kind, methods, steps, ingredients, what is judged."""
