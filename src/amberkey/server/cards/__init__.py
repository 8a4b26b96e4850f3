"""Cards: drawn for a role, a department or everybody, handed out on paper, as a page or as text."""
