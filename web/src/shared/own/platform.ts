type Platform = "windows" | "macos" | "linux";

/** The platform of the machine that the specialist sits at, as far as the browser says. */
export function ownPlatform(): Platform {
  const told = navigator as Navigator & { userAgentData?: { platform?: string } };
  const name = `${told.userAgentData?.platform ?? ""} ${navigator.userAgent}`.toLowerCase();
  if (name.includes("windows")) return "windows";
  return name.includes("mac") ? "macos" : "linux";
}
