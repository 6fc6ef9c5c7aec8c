"""The command line: reads arguments, calls services, prints one plain sentence for what goes wrong."""
