import { describe, expect, it } from "vitest";
import { csvText } from "../core/export/formats/csv";
import { plainViewer, simulateGaze } from "../core/gaze/simulate";
import { simulatedSamples } from "./gaze";
import { gazeAreas, gazeEvents } from "./gaze-events";

const text = ({ header, rows }: ReturnType<typeof simulatedSamples>) => csvText([header, ...rows]);

describe("gaze on the command line", () => {
  it("simulates samples of two eyes and finds in them what the viewer did", () => {
    const { table, words } = gazeEvents(text(simulatedSamples("tide")));
    const { truth } = simulateGaze({ ...plainViewer, seed: "tide" });
    const found = table.rows.filter(([event]) => event === "fixation");
    expect(Math.abs(found.length - truth.fixations.length)).toBeLessThanOrEqual(3);
    expect(words[0]).toMatch(/fixations, \d+ saccades in 10,000 samples, 500 a second, \d+\.\d % lost/);
    expect(words[1]).toContain("by velocity (I-VT)");
    const times = table.rows.map(([, from]) => Number(from));
    expect(times).toEqual(times.toSorted((a, b) => a - b));
    expect(gazeEvents(text(simulatedSamples("tide")), "dispersion").words[1]).toContain("by dispersion (I-DT)");
  });

  it("takes each session of a table by itself", () => {
    const samples = (session: string, x: number) =>
      Array.from({ length: 200 }, (_, at) => `${session},${at * 2},${x},0`).join("\n");
    const { table, words } = gazeEvents(`session,time_ms,x_deg,y_deg\n${samples("a", 1)}\n${samples("b", -3)}`);
    expect(table.header[0]).toBe("session");
    expect(table.rows.map(([session, event, , , , x]) => [session, event, x])).toEqual([
      ["a", "fixation", 1],
      ["b", "fixation", -3],
    ]);
    expect(words[0]).toContain("400 samples of 2 sessions, 500 a second");
  });

  it("tells what was looked at of areas, and what is wrong with a table of them", () => {
    // 400 ms on the boat, 200 ms on the gull, 200 ms on the boat again.
    const at = (from: number, to: number, x: number) =>
      Array.from({ length: (to - from) / 2 }, (_, index) => `${from + index * 2},${x},0`);
    const samples = ["time_ms,x_deg,y_deg", ...at(0, 400, 0), ...at(400, 600, 10), ...at(600, 800, 0)].join("\n");
    const areas = "name,kind,x,y,w,h,points\nboat,rectangle,0,0,4,4,\ngull,polygon,,,,,8 -2; 12 -2; 10 3";
    const { table } = gazeAreas(samples, areas);
    const rows = table.rows.map((row) => Object.fromEntries(row.map((cell, index) => [table.header[index], cell])));
    expect(rows.map(({ area, fixations, visits }) => [area, fixations, visits])).toEqual([
      ["boat", 2, 2],
      ["gull", 1, 1],
      ["elsewhere", 0, 0],
    ]);
    expect(rows[0]).toMatchObject({ first_look_ms: 0, then_gull: 1, then_boat: 0 });
    expect(rows[1]).toMatchObject({ then_boat: 1 });
    expect(Number(rows[0]?.["share"])).toBeGreaterThan(0.65);
    const wrong = (line: string) => () => gazeAreas(samples, `name,kind,x,y,w,h,points\n${line}`);
    expect(wrong("boat,disc,0,0,1,1,")).toThrow("Areas, line 2: kind is rectangle, ellipse or polygon.");
    expect(wrong("boat,ellipse,0,0,0,1,")).toThrow("w and h above 0");
    expect(wrong("boat,polygon,,,,,0 0; 1 1")).toThrow("three points or more");
    expect(wrong(",ellipse,0,0,1,1,")).toThrow("needs a name");
    expect(wrong("a,ellipse,0,0,1,1,\na,ellipse,0,0,1,1,")).toThrow("“a” is there twice");
    expect(wrong("")).toThrow("a line for each");
  });

  it("warns of few samples, and says what is wrong with a table", () => {
    const lines = Array.from({ length: 100 }, (_, at) => `${at * 10},1,1`).join("\n");
    expect(gazeEvents(`time_ms,x_deg,y_deg\n${lines}`).words[2]).toContain("fewer than 200 samples a second");
    expect(() => gazeEvents("time_ms,x\n1,2")).toThrow("needs x_deg and y_deg");
    expect(() => gazeEvents("x_deg,y_deg\n1,2")).toThrow("headers with time_ms");
    expect(() => gazeEvents("time_ms,x_deg,y_deg\n5,1,1\n4,1,1")).toThrow("Line 3");
    expect(() => gazeEvents("time_ms,x_deg,y_deg\n5,1,1", "hand")).toThrow("velocity or dispersion");
  });
});
