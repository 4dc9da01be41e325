"""Study files: documents, their versions, and writing them whole or not at all."""
