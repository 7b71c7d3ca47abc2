// Every scope of an issuer, for choosing among.
import { useQuery } from "@tanstack/react-query";
import { ask, ofIssuer } from "../api/http";
import { Api, Scope, page } from "../api/answers";

export function useScopes(issuer: string): Scope[] {
  const asked = useQuery({
    queryKey: ["issuer", issuer, "all-scopes"],
    enabled: issuer !== "~",
    queryFn: async ({ signal }) => {
      const apis = await ask(page(Api), ofIssuer(issuer, "apis") + "?limit=200", { signal });
      const each = await Promise.all(
        apis.value.items.map((api) =>
          ask(page(Scope), ofIssuer(issuer, "apis", api.name, "scopes") + "?limit=200", { signal }),
        ),
      );
      return each.flatMap((one) => one.value.items);
    },
  });
  return asked.data ?? [];
}
