"""Flask: translates between HTTP and the store and core. One module a station; thin."""
