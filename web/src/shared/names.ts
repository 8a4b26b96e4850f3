/** Names in other languages as they are typed: `de = Speichern; fr = Enregistrer`. */
export function namesText(names: Record<string, string>): string {
  return Object.entries(names)
    .map(([language, name]) => `${language} = ${name}`)
    .join("; ");
}

/** The same read: what has no language, or no name, is left out. */
export function namesFrom(text: string): Record<string, string> {
  const found: Record<string, string> = {};
  for (const part of text.split(";")) {
    const at = part.indexOf("=");
    const [language, name] = [part.slice(0, at).trim().toLowerCase(), part.slice(at + 1).trim()];
    if (at > 0 && language && name) found[language] = name;
  }
  return found;
}
