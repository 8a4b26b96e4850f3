import type { Schemas } from "../api/client";

type Key = Pick<Schemas["KeyOut"], "code" | "x" | "y" | "w">;
type Way = "ArrowLeft" | "ArrowRight" | "ArrowUp" | "ArrowDown";

export function isWay(key: string): key is Way {
  return key === "ArrowLeft" || key === "ArrowRight" || key === "ArrowUp" || key === "ArrowDown";
}

/** The key beside, above or below another one, where the eye would look for it. */
export function neighbour(keys: Key[], code: string, way: Way): string {
  const from = keys.find((k) => k.code === code);
  if (!from) return keys[0]?.code ?? code;
  const middle = (k: Key) => k.x + k.w / 2;
  const along = way === "ArrowLeft" || way === "ArrowRight";
  const sign = way === "ArrowLeft" || way === "ArrowUp" ? -1 : 1;
  let best: Key | null = null;
  let least = Number.POSITIVE_INFINITY;
  for (const k of keys) {
    const dx = middle(k) - middle(from);
    const dy = k.y - from.y;
    const ahead = along ? dx * sign : dy * sign;
    if (ahead <= 0 || (along && dy !== 0)) continue;
    const distance = along ? ahead : ahead * 10 + Math.abs(dx);
    if (distance < least) {
      least = distance;
      best = k;
    }
  }
  return best?.code ?? code;
}
