"""The parts of the bench, in the order in which they are run."""

PARTS = (
    "evaluation",
    "waters",
    "search",
    "right",
    "day",
    "phone",
    "sight",
    "learn",
    "records",
    "pages",
    "crate",
    "worker",
    "crowd",
    "load",
    "kills",
    "full",
    "cluster",
    "starts",
)
