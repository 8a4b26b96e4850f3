import type { Item } from "./filters";

/** A cell of the sheet: the row of a task, and its column, 0 for the standard's own. */
export interface At {
  row: number;
  column: number;
}

export function firstTask(items: Item[]): number {
  return Math.max(
    0,
    items.findIndex((i) => i.kind === "task"),
  );
}

export function clamp(n: number, least: number, most: number): number {
  return Math.max(least, Math.min(most, n));
}

/** The row of a task at or beyond some row, in the direction from which it is come to. */
export function landed(items: Item[], wanted: number, from: number): number {
  const step = wanted >= from ? 1 : -1;
  for (const way of [step, -step]) {
    for (let n = clamp(wanted, 0, items.length - 1); n >= 0 && n < items.length; n += way) {
      if (items[n]?.kind === "task") return n;
    }
  }
  return from;
}

/** Where a key leads from a cell, or null for keys that lead nowhere. */
export function stepped(key: string, ends: boolean, at: At, page: number, rows: number, columns: number): At | null {
  const { row, column } = at;
  switch (key) {
    case "ArrowDown":
      return { row: ends ? rows - 1 : row + 1, column };
    case "ArrowUp":
      return { row: ends ? 0 : row - 1, column };
    case "ArrowRight":
      return { row, column: ends ? columns : column + 1 };
    case "ArrowLeft":
      return { row, column: ends ? 0 : column - 1 };
    case "PageDown":
      return { row: row + page, column };
    case "PageUp":
      return { row: row - page, column };
    case "Home":
      return { row: ends ? 0 : row, column: 0 };
    case "End":
      return { row: ends ? rows - 1 : row, column: columns };
    default:
      return null;
  }
}

export interface Range {
  top: number;
  bottom: number;
  left: number;
  right: number;
}

export function between(one: At, other: At): Range {
  return {
    top: Math.min(one.row, other.row),
    bottom: Math.max(one.row, other.row),
    left: Math.min(one.column, other.column),
    right: Math.max(one.column, other.column),
  };
}

export function isWithin(range: Range | null, row: number, column: number): boolean {
  return range !== null && row >= range.top && row <= range.bottom && column >= range.left && column <= range.right;
}
