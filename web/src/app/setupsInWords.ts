const SHORT = 60;

/** Setups by name where that is short, else how many there are. */
export function someOf(setups: string[]): string {
  const names = new Intl.ListFormat("en-GB").format(setups);
  return setups.length === 1 || names.length <= SHORT ? names : `${setups.length} setups`;
}
