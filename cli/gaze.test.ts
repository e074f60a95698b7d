import { describe, expect, it } from "vitest";
import { csvText } from "../core/export/formats/csv";
import { plainViewer, simulateGaze } from "../core/gaze/simulate";
import { gazeEvents, simulatedSamples } from "./gaze";

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

  it("warns of few samples, and says what is wrong with a table", () => {
    const lines = Array.from({ length: 100 }, (_, at) => `${at * 10},1,1`).join("\n");
    expect(gazeEvents(`time_ms,x_deg,y_deg\n${lines}`).words[2]).toContain("fewer than 200 samples a second");
    expect(() => gazeEvents("time_ms,x\n1,2")).toThrow("needs x_deg and y_deg");
    expect(() => gazeEvents("x_deg,y_deg\n1,2")).toThrow("headers with time_ms");
    expect(() => gazeEvents("time_ms,x_deg,y_deg\n5,1,1\n4,1,1")).toThrow("Line 3");
    expect(() => gazeEvents("time_ms,x_deg,y_deg\n5,1,1", "hand")).toThrow("velocity or dispersion");
  });
});
