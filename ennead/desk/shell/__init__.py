"""The frame around the sheets: the application, the window, its commands, what is selected, the studio on the table."""
