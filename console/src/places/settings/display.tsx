import { useState } from "react";
import { isZone, prefer, usePreferences } from "../../parts/settings";
import { Time } from "../../parts/time";

const ZONES = typeof Intl.supportedValuesOf === "function" ? Intl.supportedValuesOf("timeZone") : [];

/** For this browser alone. */
export function Display() {
  const { theme, zone } = usePreferences();
  const [typed, setTyped] = useState(zone === "local" ? "" : zone);
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  return (
    <div className="flex max-w-xl flex-col gap-5">
      <fieldset>
        <legend className="mb-1 font-medium">Light or dark</legend>
        {(["system", "light", "dark"] as const).map((it) => (
          <label key={it} className="mr-5 inline-flex items-center gap-2">
            <input
              type="radio"
              name="theme"
              className="accent-(--accent)"
              checked={theme === it}
              onChange={() => prefer({ theme: it })}
            />
            {it === "system" ? "as the system has it" : it}
          </label>
        ))}
      </fieldset>
      <label>
        <span className="mb-1 block font-medium">Time zone</span>
        <input
          className="field"
          list="zones"
          value={typed}
          placeholder={`${here}, as this browser has it`}
          spellCheck={false}
          onChange={(event) => {
            setTyped(event.target.value);
            if (event.target.value === "") prefer({ zone: "local" });
            else if (isZone(event.target.value)) prefer({ zone: event.target.value });
          }}
        />
        <datalist id="zones">
          <option value="UTC" />
          {ZONES.map((it) => (
            <option key={it} value={it} />
          ))}
        </datalist>
      </label>
      <p>
        Times read like this: <Time at={new Date().toISOString()} exact />. Numbers and dates are written as the
        language of the browser has them ({navigator.language}).
      </p>
      {typed !== "" && !isZone(typed) && (
        <p role="alert" className="text-rust">
          There is no zone of this name. Such as Europe/London, or UTC.
        </p>
      )}
    </div>
  );
}
