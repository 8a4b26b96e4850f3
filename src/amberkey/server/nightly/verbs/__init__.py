"""What is done with nightly lists: tokens made and revoked, lists received, answered."""
