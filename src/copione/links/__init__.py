"""How devices are reached. Each protocol is a pure machine with a thin socket shell; pixels live here and in `screens` only."""
