/** A stroke as text by which two of them are told apart. */
export function strokeKey(stroke: { code?: string | null; modifiers: string[] }): string {
  return [...stroke.modifiers.toSorted(), stroke.code ?? ""].join("+");
}

/** A key with modifiers held, as a shortcut by position that the server reads. */
export function byPosition(code: string, held: string[]): string {
  return [...held, `code:${code}`].join("+");
}
