import { describe, expect, it } from "vitest";
import { joined, routeLabel, routeWords } from "../src/parts/words";

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
