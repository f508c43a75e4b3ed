"""The desk: Flask API, reading jobs, drawing of strips, delivery. It translates between HTTP, the store and the core."""
