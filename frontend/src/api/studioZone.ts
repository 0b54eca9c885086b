let zone: string | undefined;

/** Days and clocks are the studio's on every device, wherever that is set to be. */
export function liveIn(name: string | null): void {
  zone = name ?? undefined;
}

/** The studio's time zone; the device's own until it is known. */
export function studioZone(): string | undefined {
  return zone;
}
