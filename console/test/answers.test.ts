import * as v from "valibot";
import { describe, expect, it } from "vitest";
import { Decision, Problem, Route, changed, page } from "../src/api/answers";
import { route } from "./fixtures";

describe("what the admin API answers is looked at before it is believed", () => {
  it("reads a problem that says little", () => {
    expect(v.is(Problem, { title: "Refused", status: 403, fix: { sentence: "Ask an administrator." } })).toBe(true);
  });

  it("refuses a route with a member that is missing, of another type or no word of its own", () => {
    expect(v.is(Route, route())).toBe(true);
    expect(v.is(Route, { ...route(), mode: "some-of" })).toBe(false);
    expect(v.is(Route, { ...route(), open: "no" })).toBe(false);
    const { path: gone, ...without } = route();
    expect(gone).toBe("/tides/**");
    expect(v.is(Route, without)).toBe(false);
  });

  it("reads the values of a map as the records that they are", () => {
    const transform = {
      path: null,
      set_on_request: {},
      renamed_on_request: {},
      removed_on_request: [],
      set_on_response: {},
      removed_on_response: [],
      credential: null,
      refusals: { any: { content_type: "text/plain", body: "No." } },
      proof: null,
    };
    expect(v.parse(Route, route({ transform })).transform?.refusals?.any?.body).toBe("No.");
    expect(v.is(Route, { ...route(), transform: { ...transform, refusals: { any: 7 } } })).toBe(false);
  });

  it("reads pages and changes of any record", () => {
    expect(v.is(page(Route), { items: [route()], next: null })).toBe(true);
    expect(v.is(page(Route), { items: [{}], next: null })).toBe(false);
    expect(v.is(changed(Route), { now: route(), notes: ["It is live."] })).toBe(true);
  });

  it("takes no verdict but the two that there are", () => {
    expect(v.is(v.pick(Decision, ["verdict"]), { verdict: "admitted" })).toBe(true);
    expect(v.is(v.pick(Decision, ["verdict"]), { verdict: "maybe" })).toBe(false);
  });
});
