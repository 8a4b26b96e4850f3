import type { AskedOf } from "./useProposals";

type Platform = AskedOf["platform"];
/** What is settled beforehand on one platform. */
export type Settled = Pick<AskedOf, "pins" | "bans" | "without">;

const NOTHING: Settled = { pins: [], bans: [], without: [] };

/** All platforms that a proposal is asked for, the first one before the others. */
export function platformsOf(asked: AskedOf): Platform[] {
  return [asked.platform, ...asked.together.filter((p) => p !== asked.platform)];
}

export function settledOn(asked: AskedOf, platform: Platform): Settled {
  if (platform === asked.platform) return { pins: asked.pins, bans: asked.bans, without: asked.without };
  return { ...NOTHING, ...asked.elsewhere[platform] };
}

/** The same question with something else settled on a platform. */
export function settle(asked: AskedOf, platform: Platform, part: Partial<Settled>): AskedOf {
  if (platform === asked.platform) return { ...asked, ...part };
  return { ...asked, elsewhere: { ...asked.elsewhere, [platform]: { ...settledOn(asked, platform), ...part } } };
}

/** The same question for another platform first: what is settled stays with its platform. */
export function askFirstFor(asked: AskedOf, platform: Platform): AskedOf {
  if (platform === asked.platform) return asked;
  const elsewhere = { ...asked.elsewhere, [asked.platform]: settledOn(asked, asked.platform) };
  const together = asked.together.filter((p) => p !== platform);
  return { ...asked, ...settledOn(asked, platform), platform, together, elsewhere };
}

/** As it is asked: without what is settled on platforms that it isn't asked for. */
export function asAsked(asked: AskedOf): AskedOf {
  const others = platformsOf(asked).slice(1);
  const kept = others.flatMap((p) => {
    const own = settledOn(asked, p);
    return own.pins.length + own.bans.length + own.without.length > 0 ? [[p, own] as const] : [];
  });
  return { ...asked, elsewhere: Object.fromEntries(kept) };
}
