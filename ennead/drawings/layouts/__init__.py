"""Where everything of a drawing stands: pure geometry and the rows it is made of, without Qt."""
