"""The Django project: documents kept, answers computed through a lens, machines served."""
