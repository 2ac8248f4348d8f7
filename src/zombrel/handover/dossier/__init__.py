"""The installer's dossier: everything of one job on paper."""
