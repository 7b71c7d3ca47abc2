import type { ColumnDef } from "@tanstack/react-table";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { useAct } from "../../api/changing";
import { type Refused, ofIssuer } from "../../api/http";
import { type Row, useRows } from "../../api/reading";
import { Mail, changed } from "../../api/answers";
import { useSession } from "../../frame/session";
import { Button, Empty, Line, Refusal, Waiting, shell } from "../../parts/basics";
import { Window } from "../../parts/dialogs";
import { Told } from "../../parts/mark";
import { Table } from "../../parts/table";
import { Time } from "../../parts/time";

/** The text of a mail. A code in it is shown to an administrator who requests it, which the audit says. */
function Reading({ of, issuer }: { of: Mail; issuer: string }) {
  const { may } = useSession();
  const act = useAct();
  const [mail, setMail] = useState(of);
  const [refused, setRefused] = useState<Refused | null>(null);
  const reveal = async () => {
    const outcome = await act(changed(Mail), `${ofIssuer(issuer, "outbox", of.id)}/reveal`, {
      method: "POST",
      body: {},
    });
    if (outcome.done) setMail(outcome.value.now);
    setRefused(outcome.done ? null : outcome.refusal);
  };
  return (
    <>
      <pre tabIndex={0} className="overflow-auto rounded bg-shade px-3 py-2 whitespace-pre-wrap">
        {mail.body}
      </pre>
      {mail.hidden && may.runPeople && (
        <p className="mt-3">
          <Button onClick={() => void reveal()}>Show the code</Button>{" "}
          <span className="text-faint">The code opens the account. The audit says who looked.</span>
        </p>
      )}
      {mail.hidden && !may.runPeople && (
        <p className="mt-3 text-faint">The code is hidden. An administrator can have it shown.</p>
      )}
      {refused && <Refusal of={refused} />}
    </>
  );
}

export function Outbox() {
  const [params, setParams] = useSearchParams();
  const to = params.get("to") ?? "";
  const [typed, setTyped] = useState(to);
  const list = useRows(Mail, "/outbox", { to });
  const [reading, setReading] = useState<Row<Mail> | null>(null);
  const columns: ColumnDef<Row<Mail>>[] = [
    {
      id: "written",
      header: "Written",
      accessorFn: (row) => row.value.written_at,
      cell: ({ row: { original } }) => <Time at={original.value.written_at} />,
    },
    {
      id: "to",
      header: "To",
      accessorFn: (row) => row.value.to,
      cell: (it) => <span className="break-all">{String(it.getValue())}</span>,
    },
    {
      id: "subject",
      header: "Subject",
      accessorFn: (row) => row.value.subject,
      cell: ({ row: { original } }) => (
        <button type="button" className="text-left text-accent underline" onClick={() => setReading(original)}>
          {original.value.subject}
        </button>
      ),
    },
    {
      id: "state",
      header: "Status",
      accessorFn: (row) => row.value.sent_at ?? row.value.fault ?? "",
      cell: ({
        row: {
          original: { value },
        },
      }) =>
        value.fault ? (
          <Told verdict="refused">{value.fault}</Told>
        ) : value.sent_at ? (
          <Told verdict="admitted">sent</Told>
        ) : (
          <Told verdict="waiting">kept here</Told>
        ),
      meta: { aside: true },
    },
  ];
  return (
    <>
      <form
        role="search"
        className="mb-3 flex items-center gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          setParams(typed ? { to: typed.trim() } : {});
        }}
      >
        <input
          className="field !w-64"
          type="search"
          aria-label="To the address"
          placeholder="To"
          value={typed}
          onChange={(event) => {
            setTyped(event.target.value);
            if (event.target.value === "") setParams({});
          }}
        />
        <Button type="submit">Find</Button>
      </form>
      {list.state === "loading" && <Waiting what="the outbox" />}
      {list.refusal && <Refusal of={list.refusal} />}
      {list.state === "ready" && list.rows.length === 0 && (
        <Empty title="No mail was written">
          Where no mail server is set, mail stays here to be read: codes for new passwords, invitations, word of what
          was asked.
        </Empty>
      )}
      {list.rows.length > 0 && (
        <Table
          label="Mail"
          rows={list.rows}
          columns={columns}
          rowId={(row) => row.value.id}
          more={list.more}
          onEnd={list.fetchMore}
          fetching={list.fetching}
        />
      )}
      <div className="mt-5">
        <Line>{`admit outbox list${to ? ` --to ${shell(to)}` : ""}`}</Line>
      </div>
      {reading && (
        <Window
          open
          wide
          onClose={() => setReading(null)}
          title={reading.value.subject}
          what={`To ${reading.value.to}`}
        >
          <Reading of={reading.value} issuer={reading.issuer} />
        </Window>
      )}
    </>
  );
}
