import { describe, expect, it } from "vitest";
import { chooseOrigins } from "./config.js";
import { isExhibitHost, stageAddress } from "./exhibit/stage-address.js";

const PORTS = { appPort: 4600, exhibitPort: 4601 };
const choose = (publicUrl: string | null, stagesUrl: string | null = null) =>
  chooseOrigins({ ...PORTS, publicUrl, stagesUrl });
const TOKEN = "a-token";

describe("where Tourney is found", () => {
  it("is this machine unless something else is said", () => {
    expect(choose(null)).toEqual({
      ...PORTS,
      appOrigin: "http://localhost:4600",
      appHosts: ["localhost:4600", "127.0.0.1:4600", "[::1]:4600"],
      isSecure: false,
      exhibitOrigin: "http://127.0.0.1:4601",
      stageOrigin: "http://*.localhost:4601",
    });
  });

  it("is elsewhere under the name that people open, with outputs on names below it", () => {
    expect(choose("https://tourney.example")).toMatchObject({
      appOrigin: "https://tourney.example",
      appHosts: ["tourney.example", "localhost:4600", "127.0.0.1:4600", "[::1]:4600"],
      isSecure: true,
      exhibitOrigin: "https://live.stages.tourney.example",
      stageOrigin: "https://*.stages.tourney.example",
    });
    expect(choose("https://tourney.example:8443").stageOrigin).toBe("https://*.stages.tourney.example:8443");
  });

  it("shows outputs where that is said, each on a host of its own or all on one", () => {
    expect(choose("https://tourney.example", "https://*.shown.example").exhibitOrigin).toBe(
      "https://live.shown.example",
    );
    expect(choose("http://10.0.0.7:4600", "http://10.0.0.7:4601")).toMatchObject({
      exhibitOrigin: "http://10.0.0.7:4601",
      stageOrigin: "http://10.0.0.7:4601",
      isSecure: false,
    });
  });

  it.each([
    ["here", choose(null)],
    ["elsewhere", choose("https://tourney.example")],
    ["on one host", choose("http://10.0.0.7:4600", "http://10.0.0.7:4601")],
  ])("knows the hosts of its own outputs %s, and no others", (_where, origins) => {
    const hostOf = (address: string) => new URL(address).host;
    expect(isExhibitHost(hostOf(stageAddress(origins.stageOrigin, TOKEN)), origins)).toBe(true);
    expect(isExhibitHost(hostOf(origins.exhibitOrigin), origins)).toBe(true);
    expect(isExhibitHost(hostOf(origins.appOrigin), origins)).toBe(false);
    expect(isExhibitHost("elsewhere.example", origins)).toBe(false);
    expect(isExhibitHost(`${hostOf(origins.exhibitOrigin)}.elsewhere.example`, origins)).toBe(false);
  });
});
