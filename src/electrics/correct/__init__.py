"""What a change upsets on a vehicle, why, and the part that fixes it: sized, put into the design and tried again."""
