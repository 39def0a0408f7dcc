"""The pure part: values in, values out. No sockets, no files, no clock, no printing."""
