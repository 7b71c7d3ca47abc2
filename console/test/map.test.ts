import { describe, expect, it } from "vitest";
import { draw, reach, thickness, UNKNOWN } from "../src/places/access-map/map";
import { accessMap, route, scope } from "./fixtures";

const caller = (id: string, scopes: Record<string, string>) => ({
  id,
  kind: "machine",
  enabled: true,
  names: [id],
  members: 1,
  scopes,
});

const harbour = accessMap({
  callers: [
    caller("buoy", { "tides.publish": "granted" }),
    caller("board", { "tides.read": "granted", "berths.read": "waiting" }),
  ],
  scopes: [scope("tides.read"), scope("tides.publish"), scope("berths.read", { status: "draft" })],
  routes: [
    route({ id: "rt_read" }),
    route({ id: "rt_post", methods: ["POST"], path: "/tides/readings", scopes: ["tides.publish"] }),
    route({ id: "rt_open", path: "/warnings", open: true, api: null, scopes: [] }),
  ],
  traffic: [
    { caller: "board", route: "GET /tides/**", admitted: 120, refused: 3 },
    { caller: "buoy", route: "GET /tides/**", admitted: 0, refused: 7 },
  ],
  unknown: [{ caller: "", route: "GET /warnings", admitted: 9, refused: 0 }],
});

describe("the access map", () => {
  it("draws a line for each scope that a caller has or requests, with what passed on it", () => {
    expect(draw(harbour).requests).toContainEqual({
      caller: "caller:board",
      scope: "scope:tides.read",
      status: "granted",
      word: "granted",
      admitted: 120,
      refused: 3,
    });
    expect(draw(harbour).requests.find((it) => it.scope === "scope:berths.read")?.status).toBe("waiting");
  });

  it("shows a caller that is refused for want of a scope as a line of its own", () => {
    expect(draw(harbour).strays).toContainEqual({
      caller: "caller:buoy",
      route: "route:rt_read",
      refused: 7,
      admitted: 0,
    });
  });

  it("puts an unknown caller last, and only where there was one", () => {
    expect(draw(harbour).callers.at(-1)?.key).toBe(UNKNOWN);
    expect(draw({ ...harbour, unknown: [] }).callers.map((it) => it.key)).not.toContain(UNKNOWN);
  });

  it("says of a scope that is a draft that it is one", () => {
    expect(draw(harbour).spots.get("scope:berths.read")?.more).toMatch(/^draft: /);
  });

  it("reaches from a caller through its scopes to routes, and back", () => {
    const drawn = draw(harbour);
    expect([...reach(drawn, "caller:board")]).toEqual(
      expect.arrayContaining(["caller:board", "scope:tides.read", "route:rt_read"]),
    );
    expect(reach(drawn, "caller:board")).not.toContain("route:rt_post");
    expect([...reach(drawn, "route:rt_post")]).toEqual(expect.arrayContaining(["scope:tides.publish", "caller:buoy"]));
  });

  it("grows lines slowly and never without end", () => {
    expect(thickness(0)).toBeLessThan(thickness(1));
    expect(thickness(10)).toBeLessThan(thickness(1000));
    expect(thickness(1e12)).toBe(9);
  });
});
