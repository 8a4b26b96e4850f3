"""Proposals for a whole standard: asked for, worked out by a worker, walked along their curve, made a draft."""
