"""Small widgets that every room uses: labels, fields, scrolling areas, and rules they share."""
