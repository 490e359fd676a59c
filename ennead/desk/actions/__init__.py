"""What menus do, by menu."""
