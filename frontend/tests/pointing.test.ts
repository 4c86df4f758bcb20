// @vitest-environment jsdom
import { afterEach, beforeEach, describe, expect, it, type Mock, vi } from "vitest";
import { type Pointing, pinched, pointed } from "../src/ui/pointing";

const HAND = ["onDown", "onMove", "onUp", "onCancel", "onHover", "onShift", "onPinch", "onWheel"] as const;

function handed() {
  const mocks = Object.fromEntries(HAND.map((name) => [name, vi.fn()]));
  return mocks as { [Name in (typeof HAND)[number]]: Mock<NonNullable<Pointing[Name]>> };
}

describe("a canvas under the pointer", () => {
  let canvas: HTMLElement;
  let hand: ReturnType<typeof handed>;
  let unwire: () => void;

  beforeEach(() => {
    canvas = document.body.appendChild(document.createElement("div"));
    canvas.setPointerCapture = () => undefined;
    canvas.getBoundingClientRect = () => new DOMRect(10, 20, 400, 300);
    hand = handed();
    hand.onDown.mockReturnValue(true);
    unwire = pointed(canvas, hand);
  });
  afterEach(() => {
    unwire();
    canvas.remove();
  });

  function point(type: string, x: number, y: number, more: PointerEventInit = {}, on: Element = canvas) {
    const given = { pointerId: 1, pointerType: "mouse", button: 0, bubbles: true, ...more };
    on.dispatchEvent(new PointerEvent(type, { clientX: x, clientY: y, ...given }));
  }
  const finger = (type: string, pointerId: number, x: number, y: number) =>
    point(type, x, y, { pointerId, pointerType: "touch" });
  const space = (type: "keydown" | "keyup", on: Element = document.body) =>
    on.dispatchEvent(new KeyboardEvent(type, { code: "Space", bubbles: true, cancelable: true }));

  it("tells places from its corner, with its size", () => {
    point("pointermove", 60, 50);
    expect(hand.onHover).toHaveBeenCalledWith({ x: 50, y: 30, width: 400, height: 300 });
  });

  it("follows one drag from its touch to its end, and hovers again after it", () => {
    point("pointerdown", 20, 30);
    point("pointermove", 40, 50);
    point("pointerup", 41, 51);
    point("pointermove", 60, 60);
    expect(hand.onMove.mock.calls.map(([at]) => [at.x, at.y])).toEqual([[30, 30]]);
    expect(hand.onUp).toHaveBeenCalledOnce();
    expect(hand.onHover).toHaveBeenCalledOnce();
    expect(hand.onCancel).not.toHaveBeenCalled();
  });

  it("leaves a drag alone that is not wanted", () => {
    hand.onDown.mockReturnValue(false);
    point("pointerdown", 20, 30);
    point("pointermove", 40, 50);
    point("pointerup", 40, 50);
    expect(hand.onMove).not.toHaveBeenCalled();
    expect(hand.onUp).not.toHaveBeenCalled();
  });

  it("shifts with another button, or with the space bar, by what the pointer went", () => {
    point("pointerdown", 20, 30, { button: 2 });
    point("pointermove", 25, 33);
    point("pointermove", 27, 30);
    point("pointerup", 27, 30, { button: 2 });
    space("keydown");
    point("pointerdown", 100, 100);
    point("pointermove", 90, 104);
    point("pointerup", 90, 104);
    space("keyup");
    expect(hand.onShift.mock.calls.map(([, dx, dy]) => [dx, dy])).toEqual([
      [5, 3],
      [2, -3],
      [-10, 4],
    ]);
    expect(hand.onDown).not.toHaveBeenCalled();
    point("pointerdown", 100, 100);
    expect(hand.onDown).toHaveBeenCalledOnce();
  });

  it("leaves the space bar to a button that has the focus", () => {
    const button = document.body.appendChild(document.createElement("button"));
    space("keydown", button);
    point("pointerdown", 100, 100);
    expect(hand.onDown).toHaveBeenCalledOnce();
    button.remove();
  });

  it("lets a second finger take the drag away, and the two of them move the view", () => {
    finger("pointerdown", 1, 100, 100);
    finger("pointerdown", 2, 200, 100);
    expect(hand.onCancel).toHaveBeenCalledOnce();
    finger("pointermove", 2, 300, 100);
    const [, pinch] = hand.onPinch.mock.lastCall!;
    expect(pinch).toMatchObject({ x: 190, y: 80, spread: 2, turn: 0, dx: 50, dy: 0 });
    finger("pointerup", 2, 300, 100);
    finger("pointermove", 1, 120, 100);
    finger("pointerup", 1, 120, 100);
    expect(hand.onPinch).toHaveBeenCalledOnce();
    expect(hand.onMove).not.toHaveBeenCalled();
    expect(hand.onUp).not.toHaveBeenCalled();
    finger("pointerdown", 3, 50, 50);
    expect(hand.onDown).toHaveBeenCalledTimes(2);
  });

  it("hears of a drag that the system takes away", () => {
    point("pointerdown", 20, 30);
    point("pointercancel", 20, 30);
    expect(hand.onCancel).toHaveBeenCalledOnce();
    expect(hand.onUp).not.toHaveBeenCalled();
  });

  it("leaves knobs to themselves", () => {
    const knob = canvas.appendChild(document.createElement("i"));
    knob.dataset.knob = "";
    point("pointerdown", 20, 30, {}, knob);
    expect(hand.onDown).not.toHaveBeenCalled();
  });

  it("keeps the page still under the wheel", () => {
    const wheel = new WheelEvent("wheel", { clientX: 30, clientY: 40, deltaY: 120, cancelable: true });
    canvas.dispatchEvent(wheel);
    expect(wheel.defaultPrevented).toBe(true);
    expect(hand.onWheel.mock.lastCall).toEqual([expect.objectContaining({ x: 20, y: 20 }), 120]);
  });

  it("hears nothing more once it is unwired", () => {
    unwire();
    point("pointerdown", 20, 30);
    expect(hand.onDown).not.toHaveBeenCalled();
  });
});

describe("two fingers", () => {
  it("turn, spread and shift about their middle: the still finger's place stays under it", () => {
    const [still, from, to] = [
      { x: 50, y: 40 },
      { x: 150, y: 40 },
      { x: 50, y: 240 },
    ];
    const { x, y, spread, turn, dx, dy } = pinched(still, from, to);
    expect(spread).toBeCloseTo(2, 9);
    expect(turn).toBeCloseTo(Math.PI / 2, 9);
    // where the still finger was comes to lie under it again
    const [ox, oy] = [still.x - x + dx, still.y - y + dy];
    const [c, s] = [Math.cos(turn) * spread, Math.sin(turn) * spread];
    expect([x + c * ox - s * oy, y + s * ox + c * oy].map((v, k) => v - [still.x, still.y][k]!)).toEqual([
      expect.closeTo(0, 9),
      expect.closeTo(0, 9),
    ]);
  });
});
