import { describe, expect, it } from "vitest";
import { joined, routeLabel, routeSentences, routeWords } from "../src/parts/words";
import { route, who } from "./fixtures";

describe("what is in force at a route, in sentences", () => {
  it("says who may call, and where it goes", () => {
    expect(routeSentences(route())).toEqual([
      "A token for tides with tides.read may call GET /tides/**.",
      "What passes goes to the API's upstream.",
    ]);
  });

  it("tells any of several scopes from all of them", () => {
    const scopes = ["tides.read", "berths.read", "berths.book"];
    expect(routeSentences(route({ scopes, mode: "any-of" }))[0]).toContain(
      "with any of tides.read, berths.read or berths.book",
    );
    expect(routeSentences(route({ scopes }))[0]).toContain("with tides.read, berths.read and berths.book");
  });

  it("says that an open route is open, and that any scope will do", () => {
    expect(routeSentences(route({ open: true, api: null, scopes: [] }))[0]).toBe(
      "Anyone may call GET /tides/**, without a token.",
    );
    expect(routeSentences(route({ any_scope: true, scopes: [] }))[0]).toContain("whatever its scope");
  });

  it("has a sentence for each thing that is asked of the caller", () => {
    const said = routeSentences(
      route({
        who: {
          ...who,
          for: "people",
          clients: ["berth-desk"],
          roles: ["pilot", "clerk"],
          max_age: "10m",
          acr: "two-factor",
          condition: "path.berth == claims.berth",
          issuers: ["harbour", "coastguard"],
          sign_in: "berth-desk",
        },
      }),
    );
    expect(said).toContain("Only on a person's behalf.");
    expect(said).toContain("Only berth-desk.");
    expect(said).toContain("Only people with the role pilot or clerk.");
    expect(said).toContain("The person signed in within the last 10m.");
    expect(said).toContain("The person signed in with acr two-factor.");
    expect(said).toContain("A condition on the request has to be met.");
    expect(said).toContain("Tokens of harbour and coastguard are taken.");
    expect(said).toContain("Browsers without a token are signed in as berth-desk.");
  });

  it("says every limit, and a response of the gateway's own", () => {
    const said = routeSentences(
      route({
        fixed_response: { status: null, content_type: null, body: "closed" },
        limits: {
          rates: ["60 per 1m by client"],
          quotas: ["100000 per month by client"],
          concurrent: 4,
          body: null,
          headers: null,
        },
      }),
    );
    expect(said).toContain("At most 60 per 1m by client.");
    expect(said).toContain("At most 100000 per month by client.");
    expect(said).toContain("At most 4 concurrent requests.");
    expect(said.at(-1)).toBe("The gateway responds by itself, with 200.");
  });
});

describe("words", () => {
  it("names a route for any method by its path alone", () => {
    expect(routeLabel({ methods: [], path: "/office/**" })).toBe("/office/**");
    expect(routeLabel({ methods: ["GET", "HEAD"], path: "/office/**" })).toBe("GET,HEAD /office/**");
  });

  it("quotes a path that a shell would read otherwise", () => {
    expect(routeWords(["GET"], "/tides/**")).toBe("GET '/tides/**'");
    expect(routeWords([], "/it's")).not.toContain("/it's ");
  });

  it("joins none, one, two and three", () => {
    expect([joined([]), joined(["a"]), joined(["a", "b"]), joined(["a", "b", "c"], "or")]).toEqual([
      "",
      "a",
      "a and b",
      "a, b or c",
    ]);
  });
});
