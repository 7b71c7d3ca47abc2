// Times as people read them, "in 14 min", with the exact time beside it on hover and for screen readers.
import { useEffect, useState } from "react";
import { usePreferences } from "./settings";

const UNITS: [Intl.RelativeTimeFormatUnit, number][] = [
  ["year", 31_536_000],
  ["month", 2_592_000],
  ["day", 86_400],
  ["hour", 3_600],
  ["minute", 60],
  ["second", 1],
];
const relative = new Intl.RelativeTimeFormat(navigator.language, { numeric: "auto", style: "short" });

export function useNow(everyMillis = 15_000): number {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = window.setInterval(() => setNow(Date.now()), everyMillis);
    return () => window.clearInterval(timer);
  }, [everyMillis]);
  return now;
}

export function relativeTo(now: number, time: number): string {
  const seconds = Math.round((time - now) / 1000);
  if (Math.abs(seconds) < 3) return relative.format(0, "second");
  for (const [unit, length] of UNITS)
    if (Math.abs(seconds) >= length || unit === "second") return relative.format(Math.trunc(seconds / length), unit);
  return "";
}

export function useExact(): (time: number, seconds?: boolean) => string {
  const { zone } = usePreferences();
  return (time, seconds = true) =>
    new Intl.DateTimeFormat(navigator.language, {
      dateStyle: "medium",
      timeStyle: seconds ? "medium" : "short",
      timeZone: zone === "local" ? undefined : zone,
    }).format(time);
}

export function Time({ at, exact = false }: { at: string | null; exact?: boolean }) {
  const now = useNow();
  const write = useExact();
  if (!at) return <span className="text-faint">never</span>;
  const time = Date.parse(at);
  if (Number.isNaN(time)) return <span>{at}</span>;
  return (
    <time dateTime={at} title={exact ? relativeTo(now, time) : write(time)} className="whitespace-nowrap">
      {exact ? write(time) : relativeTo(now, time)}
    </time>
  );
}

export function Day({ at }: { at: string }) {
  const write = useExact();
  return <time dateTime={at}>{write(Date.parse(at), false)}</time>;
}

const numbers = new Intl.NumberFormat(navigator.language);
export function count(value: number): string {
  return numbers.format(value);
}

export function micros(value: number): string {
  if (value < 1_000) return `${numbers.format(value)} µs`;
  return value < 1_000_000
    ? `${numbers.format(Math.round(value / 100) / 10)} ms`
    : `${numbers.format(Math.round(value / 10_000) / 100)} s`;
}
