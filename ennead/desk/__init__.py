"""The Qt interface: window, theme, sheets, margin, widgets."""
