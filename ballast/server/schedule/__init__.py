"""What is due and when: listed, in a calendar feed, and by mail at dawn."""
