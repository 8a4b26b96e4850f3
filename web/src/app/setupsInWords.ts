const FEW = 2;

/** Setups by name where they are few, else how many there are. */
export function someOf(setups: string[]): string {
  return setups.length <= FEW ? new Intl.ListFormat("en-GB").format(setups) : `${setups.length} setups`;
}
