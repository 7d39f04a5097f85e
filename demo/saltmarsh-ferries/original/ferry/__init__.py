"""The planning program of Saltmarsh Ferries."""
