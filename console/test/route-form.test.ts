import { describe, expect, it } from "vitest";
import { routeBody, routeValues, routeWith } from "../src/places/gateway/fields";
import { route, who } from "./fixtures";

const full = route({
  scopes: ["tides.read", "berths.read"],
  mode: "any-of",
  upstream: "http://127.0.0.1:9481",
  cors: true,
  who: { ...who, for: "people", max_age: "10m" },
  transform: {
    path: "/v2/{rest}",
    set_on_request: { "X-Berth": "{{path.berth}}" },
    renamed_on_request: {},
    removed_on_request: ["Cookie"],
    set_on_response: {},
    removed_on_response: [],
    credential: null,
    refusals: { any: { content_type: "text/plain", body: "No." } },
    proof: "each-request",
  },
  timeouts: { connect: "2s", idle: null, total: null },
  limits: { rates: ["60 per 1m by client"], quotas: [], concurrent: 4, body: null, headers: null },
});

describe("a route in its form", () => {
  it("is sent as it was where nothing was typed", () => {
    expect(routeBody(routeValues(full), full)).toEqual({
      methods: ["GET"],
      path: "/tides/**",
      cors: true,
      api: "tides",
      scopes: ["tides.read", "berths.read"],
      mode: "any-of",
      upstream: "http://127.0.0.1:9481",
      who: { for: "people", max_age: "10m" },
      transform: {
        path: "/v2/{rest}",
        set_on_request: { "X-Berth": "{{path.berth}}" },
        removed_on_request: ["Cookie"],
        refusals: { any: { content_type: "text/plain", body: "No." } },
        proof: "each-request",
      },
      timeouts: { connect: "2s" },
      limits: { rates: ["60 per 1m by client"], concurrent: 4 },
    });
  });

  it("drops what is emptied, and keeps the rest", () => {
    const body = routeBody({ ...routeValues(full), "who/max_age": " ", "limits/rates": [] }, full);
    expect(body.who).toEqual({ for: "people" });
    expect(body.limits).toEqual({ concurrent: 4 });
  });

  it("asks nothing of a caller where it is open", () => {
    const body = routeBody({ ...routeValues(full), open: true }, full);
    expect(body.open).toBe(true);
    expect(body).not.toHaveProperty("who");
    expect(body).not.toHaveProperty("scopes");
    expect(body).not.toHaveProperty("api");
  });

  it("sends nowhere what the gateway responds to itself", () => {
    const body = routeBody({ ...routeValues(full), answers: true, "fixed_response/body": "" }, full);
    expect(body.fixed_response).toEqual({ status: 200, content_type: "application/json", body: "" });
    expect(body).not.toHaveProperty("upstream");
    expect(body).not.toHaveProperty("timeouts");
  });

  it("changes one member in the midst of the others", () => {
    const body = routeWith(full, { limits: { rates: ["10 per 1m by person"] } });
    expect(body.limits).toEqual({ rates: ["10 per 1m by person"], concurrent: 4 });
    expect(body.who).toEqual({ for: "people", max_age: "10m" });
  });
});
