import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it, vi } from "vitest";
import { PopoverMenu } from "./PopoverMenu.js";

describe("a menu that opens a sheet", () => {
  it("opens and closes by keyboard, tells when it opens, and gives the focus back", async () => {
    const onOpen = vi.fn();
    render(
      <PopoverMenu label="All kinds" name="Kinds" onOpen={onOpen}>
        <button type="button">games</button>
      </PopoverMenu>,
    );
    expect(screen.queryByRole("dialog")).toBeNull();
    await userEvent.tab();
    await userEvent.keyboard("{Enter}");
    expect(screen.getByRole("dialog", { name: "Kinds" })).toBeTruthy();
    expect(onOpen).toHaveBeenCalledTimes(1);
    expect(document.activeElement).toBe(screen.getByRole("button", { name: "games" }));
    await userEvent.keyboard("{Escape}");
    expect(screen.queryByRole("dialog")).toBeNull();
    expect(document.activeElement).toBe(screen.getByRole("button", { name: /All kinds/ }));
    expect(onOpen).toHaveBeenCalledTimes(1);
  });
});
