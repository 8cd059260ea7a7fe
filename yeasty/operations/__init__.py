"""Deeds: the only place that puts reading, thinking and writing together, whoever asks for it."""
