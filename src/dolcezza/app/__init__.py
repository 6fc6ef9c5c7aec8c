"""The desk: the only room with Qt. Shows what the services know and hands the teacher's word back to them."""
