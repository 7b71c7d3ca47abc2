// What passed over time, and why the rest did not. Each figure has its numbers as a table for screen readers.
import type * as v from "valibot";
import { Bar, BarChart, CartesianGrid, ResponsiveContainer, Tooltip, XAxis, YAxis } from "recharts";
import type { Count } from "../../api/answers";
import { usePreferences } from "../../parts/settings";
import { count, useExact } from "../../parts/time";

type Counted = v.InferOutput<typeof Count>;
type Stretch = { from: number; admitted: number; refused: number };

const LENGTHS: Record<string, number> = { s: 1_000, m: 60_000, h: 3_600_000, d: 86_400_000 };
function length(text: string): number {
  return Number.parseInt(text, 10) * (LENGTHS[text.slice(-1)] ?? 0);
}

/** Every stretch of the time that is shown: one in which nothing came is as telling. */
function filled(stretches: Map<number, Stretch>, since: string, per: string): Stretch[] {
  const step = length(per);
  const span = length(since);
  if (!(step > 0) || !(span > 0)) return [...stretches.values()].sort((one, other) => one.from - other.from);
  const last = Math.floor(Date.now() / step) * step;
  const all: Stretch[] = [];
  for (let from = Math.floor((Date.now() - span) / step) * step; from <= last; from += step)
    all.push(stretches.get(from) ?? { from, admitted: 0, refused: 0 });
  return all;
}

/** Hours within a day, days beyond. */
function tick(from: number, days: boolean, zone: string): string {
  return new Intl.DateTimeFormat(navigator.language, {
    ...(days ? { month: "short", day: "numeric" } : { hour: "numeric", minute: "2-digit" }),
    timeZone: zone === "local" ? undefined : zone,
  }).format(from);
}

const SPANS: Record<string, string> = {
  "15m": "the last 15 minutes",
  "1h": "the last hour",
  "1d": "the last day",
  "7d": "the last 7 days",
  "30d": "the last 30 days",
};

export default function Charts({
  rate,
  counted,
  by,
  onBy,
  since,
  per,
  onChoose,
}: {
  rate: Counted[];
  counted: Counted[];
  by: string;
  onBy: (by: string) => void;
  since: string;
  per: string;
  onChoose: (value: string) => void;
}) {
  const write = useExact();
  const { zone } = usePreferences();
  const span = length(since);
  const stretches = new Map<number, Stretch>();
  for (const it of rate) {
    const from = it.from ? Date.parse(it.from) : 0;
    const stretch = stretches.get(from) ?? { from, admitted: 0, refused: 0 };
    if (it.what === "admitted") stretch.admitted += it.decisions;
    else stretch.refused += it.decisions;
    stretches.set(from, stretch);
  }
  const data = filled(stretches, since, per);
  const admitted = data.reduce((sum, it) => sum + it.admitted, 0);
  const refused = data.reduce((sum, it) => sum + it.refused, 0);
  const most = [...counted].sort((one, other) => other.decisions - one.decisions).slice(0, 7);
  const largest = most[0]?.decisions ?? 1;
  return (
    <div className="mb-5 grid gap-6 lg:grid-cols-[minmax(0,1.6fr)_minmax(0,1fr)]">
      <figure className="min-w-0">
        <figcaption className="mb-1 flex flex-wrap gap-x-4">
          <span className="font-semibold">In {SPANS[since] ?? since}</span>
          <span>{count(admitted)} admitted</span>
          <span className="text-rust">
            {count(refused)} refused
            {admitted + refused > 0 ? `, ${count(Math.round((1000 * refused) / (admitted + refused)) / 10)} %` : ""}
          </span>
        </figcaption>
        <div className="h-44" aria-hidden="true">
          <ResponsiveContainer width="100%" height="100%" initialDimension={{ width: 600, height: 176 }}>
            <BarChart
              data={data}
              margin={{ top: 4, right: 4, bottom: 0, left: -18 }}
              barCategoryGap={1}
              accessibilityLayer={false}
            >
              <CartesianGrid vertical={false} stroke="var(--hair)" />
              <XAxis
                dataKey="from"
                tickFormatter={(from: number) => tick(from, span > 86_400_000, zone)}
                tick={{ fill: "var(--faint)", fontSize: 11 }}
                stroke="var(--hair)"
                minTickGap={48}
              />
              <YAxis allowDecimals={false} tick={{ fill: "var(--faint)", fontSize: 11 }} stroke="var(--hair)" />
              <Tooltip
                cursor={{ fill: "var(--shade)" }}
                labelFormatter={(from) => write(Number(from), false)}
                contentStyle={{
                  background: "var(--raised)",
                  border: "1px solid var(--hair)",
                  borderRadius: 4,
                  color: "var(--ink)",
                }}
              />
              <Bar dataKey="admitted" stackId="one" fill="var(--accent)" isAnimationActive={false} />
              <Bar dataKey="refused" stackId="one" fill="var(--rust)" isAnimationActive={false} />
            </BarChart>
          </ResponsiveContainer>
        </div>
        <table className="sr-only">
          <caption>Admitted and refused over time</caption>
          <thead>
            <tr>
              <th scope="col">From</th>
              <th scope="col">Admitted</th>
              <th scope="col">Refused</th>
            </tr>
          </thead>
          <tbody>
            {data.map((it) => (
              <tr key={it.from}>
                <td>{write(it.from, false)}</td>
                <td>{it.admitted}</td>
                <td>{it.refused}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </figure>
      <figure className="min-w-0">
        <figcaption className="mb-1 flex items-center gap-2 font-semibold">
          <span>{by === "reason" ? "Refused" : "All"}, by</span>
          <select
            className="field !w-auto !py-0 font-normal"
            aria-label="Counted by"
            value={by}
            onChange={(event) => onBy(event.target.value)}
          >
            {["reason", "client", "api", "route", "person", "endpoint", "verdict"].map((it) => (
              <option key={it}>{it}</option>
            ))}
          </select>
        </figcaption>
        {most.length === 0 ? (
          <p className="text-faint">{by === "reason" ? "Nothing was refused." : "Nothing was received."}</p>
        ) : (
          <ul className="flex flex-col gap-1">
            {most.map((it) => (
              <li key={it.what}>
                <button
                  type="button"
                  onClick={() => onChoose(it.what ?? "")}
                  className={
                    "grid w-full grid-cols-[minmax(0,1fr)_auto] items-center gap-x-3 " +
                    "rounded px-1 text-left hover:bg-shade"
                  }
                >
                  <span className="truncate">{it.what || "unknown caller"}</span>
                  <span className="tabular-nums">{count(it.decisions)}</span>
                  <span className="col-span-2 h-1 rounded bg-shade" aria-hidden="true">
                    <span
                      className={`block h-full rounded ${by === "reason" ? "bg-rust" : "bg-accent"}`}
                      style={{ width: `${Math.max(2, (100 * it.decisions) / largest)}%` }}
                    />
                  </span>
                </button>
              </li>
            ))}
          </ul>
        )}
      </figure>
    </div>
  );
}
