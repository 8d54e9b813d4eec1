import { describe, expect, it } from "vitest";
import { hideAddresses, hideTimes } from "./log-text.js";

describe("a line of a log", () => {
  it("has no places in memory", () => {
    expect(hideAddresses("[.WebGL-0x3c8005a2300]GL Driver Message")).toBe("[.WebGL-0x…]GL Driver Message");
    expect(hideAddresses("[GroupMarkerNotSet(crbug.com/242999)!:A0C03F0C5C020000]")).toContain("!:…]");
  });
  it("keeps colours and other short figures", () => {
    expect(hideAddresses("colour 0xff00 of 12345678")).toBe("colour 0xff00 of 12345678");
  });
  it("has no times that the browser measured", () => {
    expect(hideTimes("load: 12.3449 ms")).toBe("load: … ms");
  });
});
