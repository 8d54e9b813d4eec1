import { readSuiteText, setInSuite } from "@tourney/core/suite";
import { fireEvent, render, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { describe, expect, it } from "vitest";
import { PromptForm } from "./PromptForm.js";

const TEXT = `format: tourney-suite/1
key: harbour
title: Harbour
prompts:
  - key: locks
    title: Locks
    kind: game
    summary: Work a lock.
    text: Build a lock.
    motion: true
    walkthrough:
      - atMs: 700
        key: ArrowRight
        holdMs: 1200
      - atMs: 3000
        click:
          x: 640
          y: 400
    watchpoints:
      - The gates open
      - text: The water rises
        evidence: motion
  - key: flags
    title: Flags
    kind: drawing
    summary: A plate of flags.
    text: Draw flags.
    motion: false
    watchpoints:
      - All letters are there
`;

/** The form over a text, as the editor has it; the text shows as well, to look at. */
function Bench({ start }: { start: string }) {
  const [text, setText] = useState(start);
  const { parsed, prompts } = readSuiteText(text);
  return (
    <>
      <PromptForm
        prompt={prompts[0]!}
        keys={prompts.map(({ value }) => String(value["key"]))}
        issues={parsed.ok ? [] : parsed.issues}
        frames={[]}
        onSet={(path, value) => setText(setInSuite(text, path, value)!)}
      />
      <pre data-testid="file">{text}</pre>
    </>
  );
}

function show(start = TEXT) {
  render(<Bench start={start} />);
  const file = () => screen.getByTestId("file").textContent;
  return {
    file,
    prompt: () => {
      const { parsed } = readSuiteText(file());
      if (!parsed.ok) throw new Error(JSON.stringify(parsed.issues));
      return parsed.value.prompts[0]!;
    },
  };
}
const field = (name: string) => screen.getByRole<HTMLInputElement>("textbox", { name });

describe("the form of a prompt", () => {
  it("writes what is typed into the file, and nothing else", async () => {
    const { file } = show();
    await userEvent.clear(field("Title"));
    await userEvent.type(field("Title"), "Lock Keeper");
    await waitFor(() => expect(file()).toBe(TEXT.replace("title: Locks", "title: Lock Keeper")));
    expect(field("Title").value).toBe("Lock Keeper");
  });

  it("says what is wrong beside the field, in words, and keeps what was typed", async () => {
    show();
    await userEvent.clear(field("Title"));
    await userEvent.tab();
    expect(await screen.findByText("must not be empty")).toBeTruthy();
    await userEvent.clear(field("Seconds"));
    await userEvent.type(field("Seconds"), "long");
    await userEvent.tab();
    expect(await screen.findByText("must be a number, and is text")).toBeTruthy();
    expect(field("Seconds").value).toBe("long");
  });

  it("adds and removes turns, files and watch-points", async () => {
    const { prompt } = show();
    await userEvent.click(screen.getByRole("button", { name: "Add a follow-up turn" }));
    await userEvent.click(screen.getByRole("button", { name: "Add a file to give" }));
    await userEvent.click(screen.getByRole("button", { name: "Add a watch-point" }));
    expect(prompt()).toMatchObject({ turns: [{ text: "Now animate it." }], starterFiles: [{ path: "file-1.txt" }] });
    expect(prompt().watchpoints).toHaveLength(3);
    await userEvent.click(screen.getByRole("button", { name: "Remove turn 2" }));
    await userEvent.click(screen.getByRole("button", { name: "Remove file 1" }));
    await userEvent.click(screen.getByRole("button", { name: "Remove watch-point 1" }));
    expect(prompt()).toMatchObject({ turns: [], starterFiles: [] });
    expect(prompt().watchpoints).toEqual([{ text: "The water rises", evidence: "motion" }, "It works"]);
  });

  it("sets rules, sizes and the variant, and takes out what holds anyway", async () => {
    const { file, prompt } = show();
    const choose = (name: string, value: string) =>
      userEvent.selectOptions(screen.getByRole("combobox", { name }), value);
    await choose("Libraries", "only these");
    await userEvent.clear(field("Which"));
    await userEvent.type(field("Which"), "d3, three");
    await userEvent.tab();
    await waitFor(() => expect(prompt().rules.libraries).toEqual(["d3", "three"]));
    await choose("Libraries", "forbidden");
    await choose("Language", "an SVG file");
    await choose("Language", "any");
    expect(file()).not.toContain("rules");
    await userEvent.type(field("Further viewports"), "390x844");
    await userEvent.tab();
    await waitFor(() => expect(prompt().furtherViewports).toEqual([{ width: 390, height: 844 }]));
    await choose("Of", "flags");
    expect(prompt().variantOf).toEqual({ prompt: "flags", change: "What is worded otherwise" });
    await choose("Of", "none: a task of its own");
    expect(file()).not.toContain("variantOf");
    await userEvent.click(screen.getByRole("checkbox", { name: /expected to move/ }));
    expect(prompt().motion).toBe(false);
  });
});

describe("the walkthrough in the form", () => {
  const bar = (name: RegExp) => screen.getByRole("button", { name });

  it("moves and holds an input by the arrow keys, and removes it", async () => {
    const { prompt } = show();
    bar(/Input 1: ArrowRight/).focus();
    await userEvent.keyboard("{ArrowRight}{ArrowRight}");
    expect(prompt().walkthrough[0]).toEqual({ atMs: 800, key: "ArrowRight", holdMs: 1200 });
    await userEvent.keyboard("{Alt>}{ArrowLeft}{/Alt}");
    expect(prompt().walkthrough[0]).toEqual({ atMs: 800, key: "ArrowRight", holdMs: 1150 });
    await userEvent.keyboard("{Delete}");
    expect(prompt().walkthrough).toEqual([{ atMs: 3000, click: { x: 640, y: 400 } }]);
  });

  it("adds an input after the last and opens its fields", async () => {
    const { prompt } = show();
    await userEvent.click(screen.getByRole("button", { name: "Key" }));
    expect(prompt().walkthrough[2]).toEqual({ atMs: 3500, key: "ArrowRight", holdMs: 0 });
    const fields = within(screen.getByRole("group", { name: "Input 3" }));
    await userEvent.clear(fields.getByRole("textbox", { name: "Key" }));
    await userEvent.type(fields.getByRole("textbox", { name: "Key" }), "Space");
    await userEvent.tab();
    await waitFor(() => expect(prompt().walkthrough[2]).toMatchObject({ key: "Space" }));
  });

  it("aims a click by pointer on the page in small, or by name", async () => {
    const { prompt } = show();
    await userEvent.click(bar(/Input 2: click/));
    const map = screen.getByRole("img", { name: /The page in small/ });
    map.getBoundingClientRect = () => ({ left: 0, top: 0, width: 320, height: 200 }) as DOMRect;
    fireEvent.pointerDown(map, { clientX: 80, clientY: 50, button: 0 });
    expect(prompt().walkthrough[1]).toEqual({ atMs: 3000, click: { x: 320, y: 200 } });
    await userEvent.selectOptions(screen.getByRole("combobox", { name: "Where" }), "by name");
    expect(prompt().walkthrough[1]).toEqual({ atMs: 3000, click: { role: "button", name: "Start" } });
  });

  it("shows an input that cannot be read, and lets it be removed", async () => {
    const { prompt } = show(TEXT.replace("        key: ArrowRight\n        holdMs: 1200\n", "        jump: high\n"));
    expect(screen.getByText(/Input 1 cannot be read/)).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "remove it" }));
    expect(prompt().walkthrough).toHaveLength(1);
  });
});
