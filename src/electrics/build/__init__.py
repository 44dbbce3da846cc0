"""What the person takes to the vehicle: order of work, cut list, joints, parts."""
