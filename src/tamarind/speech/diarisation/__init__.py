"""Who speaks when: voices told apart by how they sound, without knowing whose they are."""
