"""The Loops sheet: outboard as inserts, how late and how loud."""
