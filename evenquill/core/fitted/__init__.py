"""Models that come with the application, and how they are asked. They are fitted by ``bench/corpus`` (see docs/development.md)."""
