"""What the views share: the one current take, moment, stroke and finding."""
