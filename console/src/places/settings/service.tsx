import { useState } from "react";
import { ROOT, Refused, asRefused, ask } from "../../api/http";
import { useThing } from "../../api/reading";
import { Service as ServiceShape, ServiceCheck } from "../../api/answers";
import { useSession } from "../../frame/session";
import { Button, Facts, Line, Paste, Refusal, Section, Show } from "../../parts/basics";
import { Told } from "../../parts/mark";

export function Service() {
  const service = useThing(ServiceShape, "");
  const { who } = useSession();
  const [checked, setChecked] = useState<{ whole: boolean; faults: string[] } | "under way" | null>(null);
  const [refused, setRefused] = useState<Refused | null>(null);
  const [saving, setSaving] = useState(false);
  const check = async () => {
    setChecked("under way");
    setRefused(null);
    try {
      setChecked((await ask(ServiceCheck, "/service/check")).value);
    } catch (error) {
      setChecked(null);
      setRefused(asRefused(error));
    }
  };
  const backup = async () => {
    setSaving(true);
    setRefused(null);
    try {
      const answer = await fetch(ROOT + "/api/service/backup", {
        method: "POST",
        headers: { "Admit-Form": who.form },
        credentials: "same-origin",
      });
      if (!answer.ok) throw new Error(`The service answered ${answer.status}.`);
      const link = document.createElement("a");
      link.href = URL.createObjectURL(await answer.blob());
      link.download = `admit-${new Date().toISOString().slice(0, 10)}.db`;
      link.click();
      URL.revokeObjectURL(link.href);
    } catch (error) {
      setRefused(asRefused(error));
    }
    setSaving(false);
  };
  return (
    <div className="max-w-3xl">
      <Section title="This service">
        <Show of={service} what="the service">
          {(it) => (
            <Facts
              of={[
                ["Version", it.version],
                [
                  "Authorization server",
                  <Paste key="a" text={it.public_url} what="the authorization server's address" />,
                ],
                ["Gateway", <Paste key="g" text={it.gateway} what="the gateway's address" />],
              ]}
            />
          )}
        </Show>
      </Section>
      <Section
        title="Backup"
        act={
          <Button onClick={() => void backup()} disabled={saving}>
            {saving ? "Copying" : "Download a backup"}
          </Button>
        }
      >
        <p className="text-faint">
          The records of this moment, while the service goes on. The master key is not in it: keep a copy of master.key
          elsewhere. A backup is put back on the machine itself.
        </p>
        <div className="mt-3">
          <Line>admit service backup admit.db</Line>
        </div>
      </Section>
      <Section
        title="Are the records whole"
        act={
          <Button onClick={() => void check()} disabled={checked === "under way"}>
            {checked === "under way" ? "Reading everything" : "Check"}
          </Button>
        }
      >
        <div aria-live="polite">
          {checked &&
            checked !== "under way" &&
            (checked.whole ? (
              <Told verdict="admitted">Every record and every line of the audits is whole.</Told>
            ) : (
              <ul>
                {checked.faults.map((it) => (
                  <li key={it}>
                    <Told verdict="refused">{it}</Told>
                  </li>
                ))}
              </ul>
            ))}
        </div>
        {refused && <Refusal of={refused} />}
        <div className="mt-3">
          <Line>admit service check</Line>
        </div>
      </Section>
    </div>
  );
}
