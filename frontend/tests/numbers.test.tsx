// @vitest-environment jsdom
import { act, cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { useSettings } from "../src/bench/store";
import { NumberField } from "../src/ui/numbers/NumberField";
import { readQuantity, roundStep, written } from "../src/ui/numbers/quantity";
import { Reading } from "../src/ui/numbers/reading";

describe("what is typed", () => {
  // 1 in = 25.4 mm exactly: international yard and pound agreement, 1959
  it.each([
    ["62", "mm", 62],
    ["62/2", "mm", 31],
    ["1.5in", "mm", 38.1],
    ["1 1/2 in", "mm", 38.1],
    ['3/4"', "mm", 3 * 6.35],
    ["2 cm + 3", "mm", 23],
    ["3 + 2 cm", "mm", 23],
    ["(10 + 2) * 3", "mm", 36],
    ["2 * 3 cm", "mm", 60],
    ["10 cm / 4", "mm", 25],
    ["-4 + 1", "mm", -3],
    ["1,5", "mm", 1.5],
    ["1.234,5", "mm", 1234.5],
    ["1,234.5", "mm", 1234.5],
    ["−7", "mm", -7],
    ["2 stops", "stops", 2],
    ["0.5 turn", "°", 180],
    ["3.14159265358979 rad", "°", 180],
    ["90 s", "min", 1.5],
    ["50%", "%", 50],
    ["2 × 3", "", 6],
    ["1e3", "mm", 1000],
    ["1/4", "mm", 0.25],
  ])("%s in a field of %s", (typed, unit, meant) => {
    expect(readQuantity(typed, unit)).toBeCloseTo(meant, 9);
  });

  it("takes a plain number as the unit that is shown", () => {
    expect(readQuantity("2", "mm", 25.4)).toBeCloseTo(50.8, 9);
    expect(readQuantity("2 + 1mm", "mm", 25.4)).toBeCloseTo(51.8, 9);
    expect(readQuantity("3 * 2", "mm", 25.4)).toBeCloseTo(152.4, 9);
  });

  it.each([
    "",
    "abc",
    "3 mm * 2 mm",
    "4 / 2 mm",
    "2 stops",
    "1 +",
    "(2",
    "2)",
    "1/0",
    "2 mm mm",
    "--",
    "9".repeat(400),
  ])("says so where %s is no length", (typed) => {
    expect(readQuantity(typed, "mm")).toContain("cannot be read as a number");
  });

  it("keeps round steps in any unit", () => {
    expect([1, 0.5, 0.0394, 0.7].map(roundStep)).toEqual([1, 0.5, 0.05, 0.5]);
  });
});

describe("what is read", () => {
  it("writes either sign, and no minus nothing", () => {
    expect([written(-0.04, 1, "."), written(1.25, 2, ",")]).toEqual(["0.0", "1,25"]);
  });

  it("tells lengths in inches", () => {
    const read = new Reading(true, ".");
    expect(read.size([62, 34, 108], 1)).toBe("2.441 × 1.339 × 4.252 in");
    expect(read.sentence("Began a box of 62 × 34 × 108 mm at 3 divisions")).toBe(
      "Began a box of 2.44 × 1.34 × 4.25 in at 3 divisions",
    );
    expect(new Reading(false, ",").sentence("Moved 3 points by 2.5 mm.")).toBe("Moved 3 points by 2,5 mm.");
  });
});

describe("a number's field", () => {
  afterEach(() => {
    cleanup();
    useSettings.setState(useSettings.getInitialState(), true);
  });

  function shown(rest: Partial<Parameters<typeof NumberField>[0]> = {}) {
    const onChange = vi.fn();
    const onSlide = vi.fn();
    render(<NumberField label="Width" value={40} unit="mm" min={1} max={100} {...{ onChange, onSlide }} {...rest} />);
    return { onChange, onSlide, field: screen.getByLabelText<HTMLInputElement>("Width") };
  }
  const type = (field: HTMLInputElement, value: string, key = "Enter") => {
    field.focus();
    fireEvent.change(field, { target: { value } });
    fireEvent.keyDown(field, { key });
  };

  it("works out what is typed, and leaves the field", () => {
    const { field, onChange } = shown();
    type(field, "62/2");
    expect(onChange).toHaveBeenCalledExactlyOnceWith(31);
    expect(document.activeElement).not.toBe(field);
  });

  it("says what cannot be read, keeps it to be mended, and gives the number back at Escape", () => {
    const { field, onChange } = shown();
    type(field, "wide");
    expect(screen.getByRole("status").textContent).toContain("“wide” cannot be read");
    expect(document.activeElement).toBe(field);
    expect(field.value).toBe("wide");
    fireEvent.keyDown(field, { key: "Escape" });
    expect(field.value).toBe("40");
    expect(onChange).not.toHaveBeenCalled();
  });

  it("says where a number is beyond what can be", () => {
    const { field, onChange } = shown();
    type(field, "2 m");
    expect(onChange).toHaveBeenCalledExactlyOnceWith(100);
    expect(screen.getByRole("status").textContent).toBe("100 mm is the most here.");
  });

  it("steps by keys, with Shift ten times as far, with Alt a tenth", () => {
    const { field, onChange } = shown({ digits: 1 });
    for (const held of [{}, { shiftKey: true }, { altKey: true }])
      fireEvent.keyDown(field, { key: "ArrowUp", ...held });
    expect(onChange.mock.calls.map(([value]) => value)).toEqual([41, 50, 40.1]);
  });

  it("follows a sideways drag on its name, and Escape gives back", () => {
    const { onChange, onSlide } = shown();
    const name = screen.getByText("Width");
    fireEvent.pointerDown(name, { clientX: 100, button: 0 });
    fireEvent.pointerMove(window, { clientX: 121 });
    expect(onSlide).toHaveBeenLastCalledWith(45);
    fireEvent.pointerUp(window, { clientX: 121 });
    expect(onChange).toHaveBeenCalledExactlyOnceWith(45);
    fireEvent.pointerDown(name, { clientX: 100, button: 0 });
    fireEvent.pointerMove(window, { clientX: 60 });
    fireEvent.keyDown(window, { key: "Escape" });
    fireEvent.pointerUp(window, { clientX: 60 });
    expect(onSlide).toHaveBeenLastCalledWith(40);
    expect(onChange).toHaveBeenCalledOnce();
  });

  it("takes one turn of the wheel as one change, and only where one is in the field", () => {
    vi.useFakeTimers();
    const { field, onChange } = shown();
    fireEvent.wheel(field, { deltaY: -100 });
    act(() => field.focus());
    for (let notch = 0; notch < 3; notch++) act(() => void fireEvent.wheel(field, { deltaY: -100 }));
    act(() => void vi.runAllTimers());
    vi.useRealTimers();
    expect(onChange).toHaveBeenCalledExactlyOnceWith(43);
  });

  it("shows and takes inches", () => {
    useSettings.setState({ unit: "inch" });
    const { field, onChange } = shown({ value: 50.8 });
    expect(field.value).toBe("2.00");
    type(field, "2.5");
    fireEvent.keyDown(field, { key: "ArrowUp" });
    expect(onChange.mock.calls.map(([value]) => Number(value.toFixed(6)))).toEqual([63.5, 52.07]);
  });
});
