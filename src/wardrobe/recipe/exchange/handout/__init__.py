"""What goes out beside the stack: colour sheets, pictures of the process, line art."""
