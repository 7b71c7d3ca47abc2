// The bar at the top: which issuer, the places in the order of the work, and the box that finds everything.
import { DropdownMenu } from "radix-ui";
import { NavLink, useLocation, useNavigate } from "react-router";
import { useConnection } from "../api/live";
import { ALL, useIssuers } from "./issuers";
import { signOut, useSession } from "./session";

export type PlaceName =
  "apis" | "clients" | "approvals" | "gateway" | "tokens" | "decisions" | "people" | "keys" | "review" | "settings";
export const PLACES: [PlaceName, string][] = [
  ["apis", "APIs"],
  ["clients", "Clients"],
  ["approvals", "Approvals"],
  ["gateway", "Gateway"],
  ["tokens", "Tokens"],
  ["decisions", "Decisions"],
  ["people", "People"],
  ["keys", "Keys"],
  ["review", "Review"],
  ["settings", "Settings"],
];
const OWNERS: PlaceName[] = ["apis", "clients", "approvals", "decisions"];

export function usePlaces(): [PlaceName, string][] {
  const { who } = useSession();
  return who.admin_role ? PLACES : PLACES.filter(([name]) => OWNERS.includes(name));
}

export function Bar({ onFind }: { onFind: () => void }) {
  const { chosen } = useIssuers();
  const places = usePlaces();
  const connection = useConnection();
  return (
    <header className="sticky top-0 z-30 border-b border-hair bg-paper">
      <a
        href="#page"
        className={
          "sr-only focus:not-sr-only focus:absolute focus:top-1 focus:left-2 " + "focus:z-50 focus:bg-paper focus:px-2"
        }
      >
        To the page
      </a>
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1 px-4 py-1.5 sm:flex-nowrap">
        <NavLink
          to={`/${chosen}`}
          end
          className="plain rounded px-1.5 py-1 font-semibold"
          aria-label="Admit, the access map"
        >
          Admit
        </NavLink>
        <IssuerFilter />
        <nav
          aria-label="Places"
          className={
            "order-last -mx-4 flex w-[calc(100%+2rem)] min-w-0 gap-0.5 overflow-x-auto px-4 " +
            "sm:order-none sm:mx-0 sm:w-auto sm:flex-1 sm:px-0"
          }
        >
          {places.map(([name, label]) => (
            <NavLink
              key={name}
              to={`/${chosen}/${name}`}
              className={({ isActive }) =>
                `plain rounded px-2 py-1 whitespace-nowrap ${name === "people" ? "sm:ml-3" : ""} ` +
                `${isActive ? "bg-accent-shade font-semibold text-ink" : "text-faint hover:text-ink"}`
              }
            >
              {label}
            </NavLink>
          ))}
        </nav>
        <span className="ml-auto flex items-center gap-2">
          {connection === "lost" && (
            <span role="status" className="rounded border border-ochre bg-ochre-shade px-2 text-ochre-ink">
              No connection; trying
            </span>
          )}
          <button
            type="button"
            onClick={onFind}
            className="rounded border border-faint bg-raised px-2 py-0.5 whitespace-nowrap text-faint hover:text-ink"
            aria-keyshortcuts="Control+K"
          >
            Find <kbd className="mono ml-1 max-lg:hidden">Ctrl K</kbd>
          </button>
          <Me />
        </span>
      </div>
    </header>
  );
}

function IssuerFilter() {
  const { all, chosen } = useIssuers();
  const navigate = useNavigate();
  const location = useLocation();
  const only = all.length === 1 ? all[0] : undefined;
  if (only && chosen !== ALL)
    return (
      <span className="mono max-w-40 truncate rounded border border-hair px-2" title={only.title}>
        {only.name}
      </span>
    );
  const go = (issuer: string) => {
    // A thing of one issuer is not there at another: its list is.
    const rest = location.pathname.split("/").slice(2, 3).join("/");
    void navigate(`/${issuer}${rest ? "/" + rest : ""}`);
  };
  return (
    <select
      aria-label="Issuer"
      className="mono max-w-40 rounded border border-faint bg-raised px-1.5 py-0.5"
      value={chosen}
      onChange={(event) => go(event.target.value)}
    >
      <option value={ALL}>all issuers</option>
      {all.map((it) => (
        <option key={it.name} value={it.name}>
          {it.name}
        </option>
      ))}
    </select>
  );
}

function Me() {
  const { who } = useSession();
  const initials = who.name
    .split(/[\s@.]+/)
    .slice(0, 2)
    .map((part) => part.slice(0, 1).toUpperCase())
    .join("");
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger
        className={
          "grid size-7 place-items-center rounded-full border border-faint " + "bg-raised text-[0.75rem] font-semibold"
        }
        aria-label={`${initials}: ${who.name}, signed in`}
      >
        {initials}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={6}
          className="z-50 min-w-56 rounded border border-hair bg-raised p-1.5"
        >
          <div className="px-2 py-1.5">
            <p className="font-semibold">{who.name}</p>
            <p className="text-faint">{who.email}</p>
            <p className="text-faint">
              {who.admin_role
                ? `${who.admin_role} of ${who.all ? "the whole service" : who.issuer}`
                : who.owns
                  ? `answers for things of ${who.issuer}`
                  : `may see nothing here`}
            </p>
          </div>
          <DropdownMenu.Separator className="my-1 border-t border-hair" />
          <DropdownMenu.Item asChild>
            <a className="plain block rounded px-2 py-1 data-[highlighted]:bg-shade" href={`/${who.issuer}/profile`}>
              My profile
            </a>
          </DropdownMenu.Item>
          <DropdownMenu.Item
            className="cursor-pointer rounded px-2 py-1 data-[highlighted]:bg-shade"
            onSelect={() => void signOut()}
          >
            Sign out
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
