"""Reading and writing: the studio file, JSON interchange, input lists, profiles. The only room that knows pydantic."""
