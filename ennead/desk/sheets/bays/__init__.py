"""The Bays sheet: layout, normals, tonight's cords."""
