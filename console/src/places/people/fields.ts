import { useQuery } from "@tanstack/react-query";
import { ask, ofIssuer } from "../../api/http";
import { Api, type ProfileField, ProfileField as FieldShape, Role, page } from "../../api/answers";
import type { Field } from "../../parts/form";
import { ADMIN_ROLES } from "../../parts/words";

/** What may be said of a person at an issuer: its fields, and the roles of its APIs. */
export function usePersonFields(issuer: string): { fields: ProfileField[]; roles: [string, string][] } {
  const asked = useQuery({
    queryKey: ["issuer", issuer, "person-fields"],
    enabled: issuer !== "~",
    queryFn: async ({ signal }) => {
      const fields = await ask(page(FieldShape), ofIssuer(issuer, "profile-fields"), { signal });
      const apis = await ask(page(Api), ofIssuer(issuer, "apis") + "?limit=200", { signal });
      const roles = await Promise.all(
        apis.value.items.map((api) =>
          ask(page(Role), ofIssuer(issuer, "apis", api.name, "roles") + "?limit=200", { signal }),
        ),
      );
      return {
        fields: fields.value.items,
        roles: roles.flatMap((one) =>
          one.value.items.map((it): [string, string] => [it.name, `${it.title}: ${it.scopes.join(" ")}`]),
        ),
      };
    },
  });
  return asked.data ?? { fields: [], roles: [] };
}

export function profileFields(fields: ProfileField[]): Field[] {
  return fields.map((it): Field =>
    it.type === "choice"
      ? {
          kind: "choice",
          name: `profile/${it.name}`,
          label: it.title,
          choices: [["", "none"], ...it.choices.map((one): [string, string] => [one, one])],
        }
      : {
          kind: "text",
          name: `profile/${it.name}`,
          label: it.title,
          help: it.pattern ? `As ${it.pattern}` : undefined,
        },
  );
}

export function rightsFields(roles: [string, string][]): Field[] {
  return [
    { kind: "choice", name: "admin_role", label: "Admin role", cli: "--admin-role", choices: ADMIN_ROLES },
    { kind: "several", name: "roles", label: "Roles", cli: "--role", choices: roles, none: "No API has a role yet." },
  ];
}
