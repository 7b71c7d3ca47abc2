import type { ColumnDef } from "@tanstack/react-table";
import { useState } from "react";
import { Link, useLocation, useSearchParams } from "react-router";
import { useAct } from "../../api/changing";
import { ofIssuer, query } from "../../api/http";
import { type Row, useRows } from "../../api/reading";
import { Nothing, Owner, Person, ProfileField, changed } from "../../api/answers";
import { place, useIssuer, useIssuers, useTarget } from "../../frame/issuers";
import { useSession } from "../../frame/session";
import { Button, ButtonLink, Empty, Head, Line, Refusal, Tag, Waiting, shell } from "../../parts/basics";
import { Removal, Window } from "../../parts/dialogs";
import { type Field, Form } from "../../parts/form";
import { Told } from "../../parts/mark";
import { Table } from "../../parts/table";
import { Tabs } from "../../parts/tabs";
import { Time } from "../../parts/time";

export default function People() {
  const issuer = useIssuer();
  const target = useTarget();
  const { may } = useSession();
  const { pathname } = useLocation();
  const part = pathname.split("/")[3] ?? "";
  return (
    <>
      <Head
        title="People"
        what="Who can sign in, what is known of them, and who answers for what."
        next={
          may.runPeople && (
            <ButtonLink kind="act" to={place(target, "people", "new")}>
              Add a person
            </ButtonLink>
          )
        }
      />
      <Tabs
        label="Of people"
        of={[
          [place(issuer, "people"), "People"],
          [place(issuer, "people", "fields"), "Profile fields"],
          [place(issuer, "people", "owners"), "Who answers for what"],
        ]}
      />
      {part === "fields" ? <Fields /> : part === "owners" ? <OwnersList /> : <PeopleList />}
    </>
  );
}

function PeopleList() {
  const [params, setParams] = useSearchParams();
  const search = params.get("search") ?? "";
  const role = params.get("role") ?? "";
  const [typed, setTyped] = useState(search);
  const { shown } = useIssuers();
  const list = useRows(Person, "/people", { search, role: shown.length === 1 ? role : "" });
  const columns: ColumnDef<Row<Person>>[] = [
    {
      id: "name",
      header: "Person",
      accessorFn: (row) => row.value.name,
      cell: ({ row: { original } }) => (
        <Link to={place(original.issuer, "people", original.value.id)}>{original.value.name}</Link>
      ),
    },
    {
      id: "email",
      header: "Address",
      accessorFn: (row) => row.value.email,
      cell: (it) => <span className="break-all">{String(it.getValue())}</span>,
    },
    {
      id: "roles",
      header: "Roles",
      accessorFn: (row) => row.value.roles.join(" "),
      cell: ({ row: { original } }) => (
        <span className="flex flex-wrap gap-1">
          {original.value.roles.map((it) => (
            <Tag key={it}>{it}</Tag>
          ))}
          {original.value.admin_role && <Tag tone="accent">{original.value.admin_role}</Tag>}
        </span>
      ),
    },
    {
      id: "state",
      header: "Status",
      accessorFn: (row) => (row.value.enabled ? "on" : "off"),
      cell: ({
        row: {
          original: { value },
        },
      }) =>
        !value.enabled ? (
          <Told verdict="ended">off</Told>
        ) : !value.has_password ? (
          <Told verdict="waiting">invited</Told>
        ) : (
          <Told verdict="admitted">{value.has_factor ? "on, with a second factor" : "on"}</Told>
        ),
      meta: { aside: true },
    },
    {
      id: "sessions",
      header: "Signed in",
      accessorFn: (row) => row.value.sessions.length,
      meta: { aside: true, right: true },
    },
    ...(shown.length > 1
      ? [
          {
            id: "issuer",
            header: "Issuer",
            accessorFn: (row: Row<Person>) => row.issuer,
            meta: { aside: true },
          } satisfies ColumnDef<Row<Person>>,
        ]
      : []),
  ];
  return (
    <>
      <form
        role="search"
        className="mb-3 flex flex-wrap items-center gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          setParams({ ...(typed ? { search: typed } : {}) });
        }}
      >
        <input
          className="field !w-64"
          type="search"
          aria-label="Addresses, names, fields that hold"
          placeholder="Address, name or field"
          value={typed}
          onChange={(event) => {
            setTyped(event.target.value);
            if (event.target.value === "") setParams({});
          }}
        />
        <Button type="submit">Find</Button>
        {role && <Button onClick={() => setParams({})}>role {role} ×</Button>}
      </form>
      {list.state === "loading" && <Waiting what="the people" />}
      {list.refusal && <Refusal of={list.refusal} />}
      {list.state === "ready" && list.rows.length === 0 && (
        <Empty title={search ? "Nobody fits" : "Nobody is here yet"}>
          {search
            ? "Addresses, names and profile fields are looked at."
            : "People are added here, or sign up where the issuer lets them."}
        </Empty>
      )}
      {list.rows.length > 0 && (
        <Table
          label="People"
          rows={list.rows}
          columns={columns}
          rowId={(row) => row.value.id}
          more={list.more}
          onEnd={list.fetchMore}
          fetching={list.fetching}
        />
      )}
      <div className="mt-5">
        <Line>{`admit person list${search ? ` --search ${shell(search)}` : ""}`}</Line>
      </div>
    </>
  );
}

const FIELD_FIELDS: Field[] = [
  { kind: "text", name: "title", label: "Title", cli: "--title" },
  {
    kind: "choice",
    name: "type",
    label: "Type",
    cli: "--type",
    choices: [
      ["text", "text"],
      ["choice", "choice"],
      ["number", "number"],
      ["date", "date"],
    ],
  },
  { kind: "lines", name: "choices", label: "Choices", cli: "--choice", when: (values) => values.type === "choice" },
  {
    kind: "text",
    name: "pattern",
    label: "Pattern, a regular expression",
    cli: "--pattern",
    mono: true,
    when: (values) => values.type === "text",
  },
  { kind: "text", name: "claim", label: "Name of the claim", cli: "--claim", mono: true },
  {
    kind: "flag",
    name: "at_sign_up",
    label: "Asked at sign-up",
    words: "People fill it in when they sign up.",
    cli: "--at-sign-up",
  },
  { kind: "flag", name: "editable", label: "Editable", words: "The person may change it.", cli: "--editable" },
  {
    kind: "flag",
    name: "on_profile_page",
    label: "On the profile page",
    words: "The person sees it in their profile.",
    cli: "--on-profile-page",
  },
];

function Fields() {
  const list = useRows(ProfileField, "/profile-fields");
  const target = useTarget();
  const { may } = useSession();
  const act = useAct();
  const [editing, setEditing] = useState<Row<ProfileField> | "new" | null>(null);
  const columns: ColumnDef<Row<ProfileField>>[] = [
    {
      id: "name",
      header: "Field",
      accessorFn: (row) => row.value.name,
      cell: ({ row: { original } }) => <span className="mono">{original.value.name}</span>,
    },
    { id: "title", header: "Title", accessorFn: (row) => row.value.title },
    {
      id: "type",
      header: "Type",
      accessorFn: (row) => row.value.type,
      cell: ({
        row: {
          original: { value },
        },
      }) => (value.type === "choice" ? `one of ${value.choices.join(", ")}` : value.type),
    },
    {
      id: "claim",
      header: "Claim",
      accessorFn: (row) => row.value.claim ?? "",
      cell: (it) => <span className="mono">{String(it.getValue())}</span>,
      meta: { aside: true },
    },
    {
      id: "how",
      header: "",
      enableSorting: false,
      cell: ({
        row: {
          original: { value },
        },
      }) => (
        <span className="flex flex-wrap gap-1">
          {value.standard && <Tag>standard</Tag>}
          {value.at_sign_up && <Tag>at sign-up</Tag>}
          {value.editable && <Tag>editable</Tag>}
        </span>
      ),
      meta: { aside: true },
    },
    {
      id: "acts",
      header: "",
      enableSorting: false,
      cell: ({ row: { original } }) =>
        may.runPeople && (
          <span className="flex justify-end gap-2">
            <Button onClick={() => setEditing(original)} aria-label={`Change ${original.value.name}`}>
              Change
            </Button>
            {!original.value.standard && (
              <Removal
                label="Remove"
                title={`Remove the field ${original.value.name}`}
                explain="What people have in it goes with it."
                path={ofIssuer(original.issuer, "profile-fields", original.value.name)}
                said={`The field ${original.value.name} is removed.`}
              />
            )}
          </span>
        ),
    },
  ];
  const issuer = editing && editing !== "new" ? editing.issuer : target;
  const before =
    editing && editing !== "new"
      ? {
          title: editing.value.title,
          type: editing.value.type,
          choices: editing.value.choices,
          pattern: editing.value.pattern ?? "",
          claim: editing.value.claim ?? "",
          at_sign_up: editing.value.at_sign_up,
          editable: editing.value.editable,
          on_profile_page: editing.value.on_profile_page,
        }
      : null;
  return (
    <>
      {may.runPeople && (
        <p className="mb-3">
          <Button onClick={() => setEditing("new")}>Add a field</Button>
        </p>
      )}
      {list.state === "loading" && <Waiting what="the fields" />}
      {list.refusal && <Refusal of={list.refusal} />}
      {list.rows.length > 0 && (
        <Table label="Profile fields" rows={list.rows} columns={columns} rowId={(row) => row.issuer + row.value.name} />
      )}
      <div className="mt-5">
        <Line>admit profile-field list</Line>
      </div>
      {editing && (
        <Window
          open
          wide
          onClose={() => setEditing(null)}
          title={editing === "new" ? "Add a profile field" : `Change ${editing.value.name}`}
          what="A changed value shows in the next token."
        >
          <Form
            fields={
              editing === "new"
                ? [{ kind: "text", name: "name", label: "Name", mono: true, placeholder: "home_quay" }, ...FIELD_FIELDS]
                : FIELD_FIELDS
            }
            start={
              before ?? {
                name: "",
                title: "",
                type: "text",
                choices: [],
                pattern: "",
                claim: "",
                at_sign_up: false,
                editable: true,
                on_profile_page: true,
              }
            }
            before={before}
            submit="Save"
            onCancel={() => setEditing(null)}
            cli={(values) =>
              editing === "new"
                ? `admit profile-field add ${shell(String(values.name || "NAME"))}`
                : `admit profile-field change ${shell(editing.value.name)}`
            }
            onSubmit={async (body, values) => {
              const outcome =
                editing === "new"
                  ? await act(
                      changed(ProfileField),
                      ofIssuer(issuer, "profile-fields"),
                      { method: "POST", body },
                      () => ({
                        now: `The field ${String(values.name)} is there.`,
                      }),
                    )
                  : await act(
                      changed(ProfileField),
                      ofIssuer(issuer, "profile-fields", editing.value.name),
                      {
                        method: "PATCH",
                        body,
                        ifMatch: editing.value.version === 0 ? "*" : `"${editing.value.version}"`,
                      },
                      () => ({ now: `The field ${editing.value.name} is changed.` }),
                    );
              if (outcome.done) setEditing(null);
              return outcome.done ? null : outcome.refusal;
            }}
          />
        </Window>
      )}
    </>
  );
}

function OwnersList() {
  const list = useRows(Owner, "/owners");
  const target = useTarget();
  const { may } = useSession();
  const act = useAct();
  const columns: ColumnDef<Row<Owner>>[] = [
    {
      id: "email",
      header: "Person",
      accessorFn: (row) => row.value.email,
      cell: ({ row: { original } }) => (
        <Link to={place(original.issuer, "people", original.value.person)}>{original.value.email}</Link>
      ),
    },
    {
      id: "kind",
      header: "Answers for",
      accessorFn: (row) => `${row.value.kind} ${row.value.name}`,
      cell: ({ row: { original } }) => (
        <>
          the {original.value.kind === "api" ? "API" : "client"}{" "}
          <Link
            className="mono"
            to={place(original.issuer, original.value.kind === "api" ? "apis" : "clients", original.value.name)}
          >
            {original.value.name}
          </Link>
        </>
      ),
    },
    {
      id: "since",
      header: "Since",
      accessorFn: (row) => row.value.since ?? "",
      cell: ({ row: { original } }) => <Time at={original.value.since} />,
      meta: { aside: true },
    },
    { id: "by", header: "Named by", accessorFn: (row) => row.value.named_by ?? "", meta: { aside: true } },
    {
      id: "acts",
      header: "",
      enableSorting: false,
      cell: ({ row: { original } }) =>
        may.runPeople && (
          <Button
            kind="danger"
            onClick={() =>
              void act(
                Nothing,
                ofIssuer(original.issuer, "owners") +
                  query({ person: original.value.email, [original.value.kind]: original.value.name }),
                { method: "DELETE" },
                () => ({
                  now: `${original.value.email} answers for ${original.value.name} no longer.`,
                  undo: async () => {
                    await act(
                      Nothing,
                      ofIssuer(original.issuer, "owners"),
                      {
                        method: "POST",
                        body: { person: original.value.email, [original.value.kind]: original.value.name },
                      },
                      () => ({ now: "Taken back." }),
                    );
                  },
                }),
              )
            }
          >
            Release
          </Button>
        ),
    },
  ];
  return (
    <>
      {list.state === "loading" && <Waiting what="who answers for what" />}
      {list.refusal && <Refusal of={list.refusal} />}
      {list.state === "ready" && list.rows.length === 0 && (
        <Empty title="Nobody answers for anything">Owners are named on the page of an API or a client.</Empty>
      )}
      {list.rows.length > 0 && (
        <Table
          label="Who answers for what"
          rows={list.rows}
          columns={columns}
          rowId={(row) => row.value.person + row.value.kind + row.value.name}
        />
      )}
      {may.runPeople && (
        <div className="mt-6 max-w-2xl border-t border-hair pt-5">
          <h2 className="mb-3">Hand everything over</h2>
          <Form
            start={{ from: "", to: "" }}
            submit="Hand over"
            cli={(values) =>
              `admit owner hand-over ${shell(String(values.from || "FROM"))} ${shell(String(values.to || "TO"))}`
            }
            fields={[
              { kind: "text", name: "from", label: "From", placeholder: "address of who leaves" },
              { kind: "text", name: "to", label: "To", placeholder: "address of who takes over" },
            ]}
            onSubmit={async (body, values) => {
              const outcome = await act(
                Nothing,
                ofIssuer(target, "owners", "hand-over"),
                { method: "POST", body },
                () => ({ now: `What ${String(values.from)} answered for is ${String(values.to)}'s now.` }),
              );
              return outcome.done ? null : outcome.refusal;
            }}
          />
        </div>
      )}
      <div className="mt-5">
        <Line>admit owner list</Line>
      </div>
    </>
  );
}
