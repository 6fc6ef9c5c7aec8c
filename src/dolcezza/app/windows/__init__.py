"""Windows put views together; they hold no numbers and decide nothing about them."""
