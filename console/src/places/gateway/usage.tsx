// What a subscription used: figures against its quotas, and a chart of its days with the same numbers as a table.
import { Bar, BarChart, CartesianGrid, ResponsiveContainer, Tooltip, XAxis, YAxis } from "recharts";
import type { Usage } from "../../api/answers";
import { Time, count } from "../../parts/time";

export default function UsageFigures({ of }: { of: Usage }) {
  const admitted = of.days.reduce((sum, day) => sum + day.admitted, 0);
  const limited = of.days.reduce((sum, day) => sum + day.limited, 0);
  return (
    <>
      {of.quotas.map((quota) => (
        <p key={quota.quota} className="mb-3">
          <span className="font-semibold">
            {count(quota.used)} of {count(quota.most)}
          </span>{" "}
          used ({quota.quota}); it begins anew <Time at={quota.ends_at} />.
          <meter
            className="mt-1 block w-full"
            aria-label={quota.quota}
            min={0}
            max={quota.most}
            high={quota.most * 0.8}
            value={quota.used}
          />
        </p>
      ))}
      <figure>
        <figcaption className="mb-1 flex flex-wrap gap-x-4">
          <span className="font-semibold">In the last {of.days.length} days, UTC</span>
          <span>{count(admitted)} admitted</span>
          <span className={limited > 0 ? "text-rust" : ""}>{count(limited)} over a limit</span>
        </figcaption>
        <div className="h-44" aria-hidden="true">
          <ResponsiveContainer width="100%" height="100%" initialDimension={{ width: 600, height: 176 }}>
            <BarChart
              data={of.days}
              margin={{ top: 4, right: 4, bottom: 0, left: -18 }}
              barCategoryGap={1}
              accessibilityLayer={false}
            >
              <CartesianGrid vertical={false} stroke="var(--hair)" />
              <XAxis
                dataKey="day"
                tickFormatter={(day: string) => day.slice(5)}
                tick={{ fill: "var(--faint)", fontSize: 11 }}
                stroke="var(--hair)"
                minTickGap={32}
              />
              <YAxis allowDecimals={false} tick={{ fill: "var(--faint)", fontSize: 11 }} stroke="var(--hair)" />
              <Tooltip
                cursor={{ fill: "var(--shade)" }}
                contentStyle={{
                  background: "var(--raised)",
                  border: "1px solid var(--hair)",
                  borderRadius: 4,
                  color: "var(--ink)",
                }}
              />
              <Bar dataKey="admitted" stackId="one" fill="var(--accent)" isAnimationActive={false} />
              <Bar dataKey="limited" name="over a limit" stackId="one" fill="var(--rust)" isAnimationActive={false} />
            </BarChart>
          </ResponsiveContainer>
        </div>
        <table className="sr-only">
          <caption>Admitted and over a limit by day</caption>
          <thead>
            <tr>
              <th scope="col">Day</th>
              <th scope="col">Admitted</th>
              <th scope="col">Over a limit</th>
            </tr>
          </thead>
          <tbody>
            {of.days.map((day) => (
              <tr key={day.day}>
                <td>{day.day}</td>
                <td>{day.admitted}</td>
                <td>{day.limited}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </figure>
    </>
  );
}
