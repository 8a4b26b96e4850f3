/** Colours of Amber Key. Amber means one thing only: it needs you. */
export const light = {
  paper: "#f5f2ea",
  sheet: "#fffdf8",
  sunk: "#ece7db",
  line: "#d9d2c3",
  ink: "#20252b",
  ink2: "#50565e",
  ink3: "#666b72",
  amber: "#f5a80f",
  onAmber: "#241a05",
  amberWash: "#fdf0d2",
  system: "#2d3640",
  utility: "#8a4433",
  browser: "#14666e",
  program: "#38559a",
  good: "#2a6136",
  bad: "#9b2c1f",
  cap: "#fffefb",
  capEdge: "#b9b1a0",
};

export type Tokens = Record<keyof typeof light, string>;

export const dark: Tokens = {
  paper: "#15181c",
  sheet: "#1c2025",
  sunk: "#121418",
  line: "#343a41",
  ink: "#eceae4",
  ink2: "#b9bcbe",
  ink3: "#9ea2a6",
  amber: "#f5b02e",
  onAmber: "#241a05",
  amberWash: "#3a2c10",
  system: "#c3cbd4",
  utility: "#eaa08c",
  browser: "#6fc8d0",
  program: "#9db4ee",
  good: "#8ecf9a",
  bad: "#f0a295",
  cap: "#2a2f36",
  capEdge: "#0b0d0f",
};
