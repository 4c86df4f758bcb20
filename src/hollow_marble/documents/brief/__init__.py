"""What a product must be: its words, its size, pictures to look at."""
