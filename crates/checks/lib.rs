//! Nothing: the checks of the core are in `tests/checks`.
