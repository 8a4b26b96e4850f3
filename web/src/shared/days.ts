/** Days and times, written in one way everywhere: "2 October", with the year where it isn't this one. */

const MONTHS = "January February March April May June July August September October November December".split(" ");

/** A day (2026-10-02) or a moment as a day. */
export function dayOf(iso: string, now = new Date()): string {
  // A day alone is no moment: it is the same day everywhere.
  const [year = 0, month = 1, day = 1] = iso.includes("T") ? parts(new Date(iso)) : iso.split("-").map(Number);
  const told = `${day} ${MONTHS[month - 1]}`;
  return year === now.getFullYear() ? told : `${told} ${year}`;
}

/** A moment: the day, and the time of day where the reader is. */
export function momentOf(iso: string, now = new Date()): string {
  return `${dayOf(iso, now)}, ${timeOf(iso)}`;
}

/** The time of day of a moment. */
export function timeOf(iso: string): string {
  const at = new Date(iso);
  return `${at.getHours()}:${String(at.getMinutes()).padStart(2, "0")}`;
}

function parts(at: Date): number[] {
  return [at.getFullYear(), at.getMonth() + 1, at.getDate()];
}
