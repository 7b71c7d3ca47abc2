// Pages of one place that belong together; each has an address of its own.
import { NavLink } from "react-router";

export function Tabs({ label, of }: { label: string; of: [string, string, boolean?][] }) {
  return (
    <nav aria-label={label} className="mb-5 flex gap-1 overflow-x-auto border-b border-hair">
      {of.map(([to, words, end]) => (
        <NavLink
          key={to}
          to={to}
          end={end ?? true}
          className={({ isActive }) =>
            `plain -mb-px border-b-2 px-2.5 py-1.5 whitespace-nowrap hover:no-underline ` +
            `${isActive ? "border-accent font-semibold" : "border-transparent text-faint hover:text-ink"}`
          }
        >
          {words}
        </NavLink>
      ))}
    </nav>
  );
}
