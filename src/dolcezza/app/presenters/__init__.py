"""What the pages ask for, done: between the views, which know no studio, and the services, which know no window."""
