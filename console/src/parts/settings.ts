// What a person set for this browser alone: light or dark, and the time zone that times are read in.
import { useSyncExternalStore } from "react";

export type Theme = "system" | "light" | "dark";
export type Preferences = { theme: Theme; zone: string };
const KEY = "admit-console";
const usual: Preferences = { theme: "system", zone: "local" };
const listeners = new Set<() => void>();
let now: Preferences = read();

function read(): Preferences {
  try {
    const kept: unknown = JSON.parse(window.localStorage.getItem(KEY) ?? "{}");
    if (typeof kept !== "object" || kept === null) return usual;
    const theme = "theme" in kept && (kept.theme === "light" || kept.theme === "dark") ? kept.theme : "system";
    const zone = "zone" in kept && typeof kept.zone === "string" && isZone(kept.zone) ? kept.zone : "local";
    return { theme, zone };
  } catch {
    return usual;
  }
}

export function isZone(name: string): boolean {
  if (name === "local") return true;
  try {
    new Intl.DateTimeFormat("en", { timeZone: name });
    return true;
  } catch {
    return false;
  }
}

export function applyTheme(): void {
  if (now.theme === "system") delete document.documentElement.dataset.theme;
  else document.documentElement.dataset.theme = now.theme;
}

export function prefer(change: Partial<Preferences>): void {
  now = { ...now, ...change };
  try {
    window.localStorage.setItem(KEY, JSON.stringify(now));
  } catch {
    // A browser that keeps nothing forgets it at the end; that is all.
  }
  applyTheme();
  listeners.forEach((listener) => listener());
}

export function usePreferences(): Preferences {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => now,
  );
}
