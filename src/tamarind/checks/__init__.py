"""What still breaks the house style: findings with a place, a reason, and where possible a fix."""
