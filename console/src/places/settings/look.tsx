// The look of an issuer's own pages, tried before it is saved.
import { useState } from "react";
import { useDebounce } from "use-debounce";
import { usePatch } from "../../api/changing";
import { ROOT, ofIssuer, query } from "../../api/http";
import { useThing } from "../../api/reading";
import { Issuer, changed } from "../../api/answers";
import { useTarget } from "../../frame/issuers";
import { useSession } from "../../frame/session";
import { Show, shell } from "../../parts/basics";
import { Form, type Values } from "../../parts/form";

const Changed = changed(Issuer);

export function Look() {
  const issuer = useTarget();
  const thing = useThing(Issuer, ofIssuer(issuer));
  return (
    <Show of={thing} what="the issuer">
      {(it, etag) => <Tried key={it.name + it.version} of={it} etag={etag} />}
    </Show>
  );
}

function Tried({ of, etag }: { of: Issuer; etag: string | null }) {
  const { may } = useSession();
  const path = ofIssuer(of.name);
  const patch = usePatch(Issuer, Changed, path);
  const [problem, setProblem] = useState<string | null>(null);
  const start: Values = {
    title: of.title,
    "people/accent": of.people.accent ?? "",
    "people/welcome": of.people.welcome ?? "",
    "people/style_sheet": of.people.style_sheet ?? "",
    "people/logo": of.people.logo ?? "",
  };
  const read = (file: File | undefined, done: (data: string) => void) => {
    if (!file) return;
    if (file.size > 70_000) {
      setProblem(`${file.name} has ${Math.round(file.size / 1024)} KiB; at most 70 fit.`);
      return;
    }
    const reader = new FileReader();
    reader.onload = () => {
      setProblem(null);
      if (typeof reader.result === "string") done(reader.result);
    };
    reader.readAsDataURL(file);
  };
  const [logo, setLogo] = useState<string | null>(null);
  return (
    <Form
      fields={[
        { kind: "text", name: "title", label: "Name", cli: "--title" },
        {
          kind: "text",
          name: "people/accent",
          label: "Accent",
          cli: "--accent",
          mono: true,
          placeholder: "#1f6f63",
          help: "A colour in six hexadecimal digits. What stands upon it is made readable.",
        },
        { kind: "text", name: "people/welcome", label: "A sentence above the form", cli: "--welcome", wide: true },
        { kind: "area", name: "people/style_sheet", label: "Own style sheet, after Admit's", mono: true, rows: 3 },
      ]}
      start={start}
      before={start}
      submit="Save the look"
      cli={() => `admit issuer change ${shell(of.name)}`}
      onSubmit={async (body) => {
        if (!may.runPeople) return null;
        const people = "people" in body && typeof body.people === "object" ? body.people : {};
        const outcome = await patch(
          logo === null ? body : { ...body, people: { ...people, logo } },
          etag,
          `The pages of ${of.name} look so from now on.`,
          {
            title: of.title,
            people: {
              accent: of.people.accent ?? "",
              welcome: of.people.welcome ?? "",
              style_sheet: of.people.style_sheet ?? "",
              logo: of.people.logo ?? "",
            },
          },
        );
        return outcome.done ? null : "refusal" in outcome ? outcome.refusal : null;
      }}
    >
      {(values) => (
        <>
          <div className="mt-4">
            <label className="block font-medium" htmlFor="logo">
              Logo
            </label>
            <div className="mt-1 flex flex-wrap items-center gap-3">
              {(logo ?? of.people.logo) && (
                <img
                  src={logo ?? of.people.logo ?? ""}
                  alt="The logo"
                  className="max-h-10 rounded border border-hair"
                />
              )}
              <input
                id="logo"
                type="file"
                accept="image/png,image/jpeg,image/webp,image/gif"
                onChange={(event) => read(event.target.files?.[0], setLogo)}
              />
              {(logo ?? of.people.logo) && (
                <button type="button" className="text-accent underline" onClick={() => setLogo("")}>
                  Without a logo
                </button>
              )}
            </div>
            {problem && (
              <p role="alert" className="mt-1 text-rust">
                {problem}
              </p>
            )}
          </div>
          <Preview
            issuer={of.name}
            accent={String(values["people/accent"] ?? "")}
            welcome={String(values["people/welcome"] ?? "")}
            title={String(values.title ?? "")}
          />
        </>
      )}
    </Form>
  );
}

function Preview({
  issuer,
  accent,
  welcome,
  title,
}: {
  issuer: string;
  accent: string;
  welcome: string;
  title: string;
}) {
  const address =
    `${ROOT}/api${ofIssuer(issuer, "look")}` +
    query({ accent: /^#[0-9a-f]{6}$/i.test(accent) ? accent : "", welcome, title });
  const [shown] = useDebounce(address, 300);
  return (
    <figure className="mt-5">
      <figcaption className="mb-1 font-medium">
        The sign-in page, as it would be; name, accent and sentence show at once
      </figcaption>
      <iframe
        title="Preview of the sign-in page"
        src={shown}
        className="h-[30rem] w-full rounded border border-hair bg-raised"
        tabIndex={-1}
      />
    </figure>
  );
}
