"""People, machines and uses as rows of a sheet: what a column means, reading a row, writing all of them."""
