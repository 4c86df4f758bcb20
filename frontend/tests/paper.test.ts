/** The paper's arithmetic: places, pressure, symmetry, tints, the tooth. Values of the server stand beside ours. */
import { describe, expect, it } from "vitest";
import { along, type Direction, type Hold, holdAt, holdsOf, nearest } from "../src/paper/guides";
import { nibOf } from "../src/paper/nibs";
import { leanOf, Pressure } from "../src/paper/pressure";
import { copiesOf } from "../src/paper/symmetry";
import { channels, luminosity, tinted } from "../src/paper/tint";
import { about, fitted, toPage, toScreen } from "../src/paper/viewport";
import { isInk, tooth } from "../src/paper/wetInk";

const event = (fields: Partial<PointerEvent>) => ({ pointerType: "mouse", ...fields }) as PointerEvent;

describe("viewport", () => {
  const view = { x: 120, y: -40, scale: 0.7, angle: 0.4 };

  it("goes to the screen and back", () => {
    for (const [x, y] of [
      [0, 0],
      [2400, 1600],
      [-50, 333.3],
    ] as const) {
      const [sx, sy] = toScreen(view, x, y);
      const [px, py] = toPage(view, sx, sy);
      expect(px).toBeCloseTo(x, 6);
      expect(py).toBeCloseTo(y, 6);
    }
  });

  it("zooms and turns about the place under the hand", () => {
    const before = toPage(view, 300, 200);
    const after = about(view, 300, 200, 1.8, 0.3);
    const [x, y] = toPage(after, 300, 200);
    expect(x).toBeCloseTo(before[0], 6);
    expect(y).toBeCloseTo(before[1], 6);
    expect(after.scale).toBeCloseTo(1.26);
    expect(after.angle).toBeCloseTo(0.7);
  });

  it("keeps the zoom within its limits", () => {
    expect(about(view, 0, 0, 1e9).scale).toBe(16);
    expect(about(view, 0, 0, 1e-9).scale).toBe(0.05);
  });

  it("shows the whole page in the middle, upright", () => {
    const all = fitted(840, 720, 2400, 1600);
    expect(all.angle).toBe(0);
    const [left, top] = toScreen(all, 0, 0);
    const [right, bottom] = toScreen(all, 2400, 1600);
    expect(left + right).toBeCloseTo(840);
    expect(top + bottom).toBeCloseTo(720);
    expect(left).toBeGreaterThanOrEqual(24 - 1e-9);
  });
});

describe("pressure", () => {
  it("is the pen's own", () => {
    const pressure = new Pressure();
    expect(pressure.of(event({ pointerType: "pen", pressure: 0.37 }))).toBe(0.37);
    expect(pressure.last).toBe(0.37);
  });

  it("falls with the speed of a mouse and comes back when it slows", () => {
    const pressure = new Pressure();
    let x = 0;
    const step = (px: number, time: number) => {
      x += px;
      return pressure.of(event({ clientX: x, clientY: 0, timeStamp: time }));
    };
    const resting = step(0, 0);
    let fast = resting;
    for (let k = 1; k < 20; k++) fast = step(60, 16 * k);
    let slow = fast;
    for (let k = 20; k < 60; k++) slow = step(2, 16 * k);
    expect(fast).toBeLessThan(0.3);
    expect(slow).toBeGreaterThan(0.75);
  });

  it("does not divide by no time at all", () => {
    const pressure = new Pressure();
    pressure.of(event({ clientX: 0, clientY: 0, timeStamp: 5 }));
    expect(pressure.of(event({ clientX: 50, clientY: 0, timeStamp: 5 }))).toBeCloseTo(0.55);
  });
});

describe("lean", () => {
  it("is nothing for an upright pen, all for a flat one, and nothing for a mouse", () => {
    expect(leanOf(event({ pointerType: "pen", tiltX: 10, tiltY: 12 }))).toBe(0);
    expect(leanOf(event({ pointerType: "pen", tiltX: 75, tiltY: 0 }))).toBe(1);
    expect(leanOf(event({ pointerType: "pen", tiltX: 0, tiltY: -50 }))).toBeCloseTo(0.5);
    expect(leanOf(event({ tiltX: 75, tiltY: 0 }))).toBe(0);
  });
});

describe("symmetry", () => {
  it("makes the server's copies in the server's order", () => {
    // core.ink.path.copies of (120, 40) about (100, 60), axis 0.3 rad, mirrored, 3 times around
    const server = [
      [105.21386, 87.79956],
      [107.32051, 87.32051],
      [73.31794, 50.61556],
      [72.67949, 52.679493],
      [121.46819, 41.58488],
    ];
    const copies = copiesOf({ x: 100, y: 60, angle: 0.3, mirror: true, turns: 3 });
    expect(copies).toHaveLength(5);
    copies.forEach((copy, k) => {
      const [x, y] = copy(120, 40);
      expect(x).toBeCloseTo(server[k]![0]!, 4);
      expect(y).toBeCloseTo(server[k]![1]!, 4);
    });
  });

  it("makes none where nothing is repeated", () => {
    expect(copiesOf({ x: 0, y: 0, angle: 0, mirror: false, turns: 1 })).toEqual([]);
  });
});

describe("tint", () => {
  it("gives a grey the tint's hue and keeps its luminosity", () => {
    const green = tinted("#808080", "#2f7f4f");
    const [r, g, b] = channels(green);
    expect(g).toBeGreaterThan(b);
    expect(b).toBeGreaterThan(r);
    expect(Math.abs(luminosity([r, g, b]) * 255 - 128)).toBeLessThan(1.5);
  });

  it("agrees with the server", () => {
    // core.ink.blend.tint of (0.2, 0.5, 0.7) with (0.18, 0.42, 0.31) is (0.2761, 0.5161, 0.4061)
    const ours = tinted("#3380b3", "#2e6b4f");
    [0.2761, 0.5161, 0.4061].forEach((value, k) => {
      expect(Math.abs(Number.parseInt(ours.slice(1 + 2 * k, 3 + 2 * k), 16) - value * 255)).toBeLessThan(1);
    });
  });

  it("leaves white white and black black", () => {
    expect(tinted("#ffffff", "#2f7f4f")).toBe("#ffffff");
    expect(tinted("#000000", "#2f7f4f")).toBe("#000000");
  });
});

describe("the tooth of the paper", () => {
  it("is the server's at every pixel", () => {
    expect(tooth(5, 9, 1)).toBeCloseTo(0.7256733043411917, 12);
    expect(tooth(5, 9, 2.6)).toBeCloseTo(0.6430131466856996, 12);
    expect(tooth(100, 37, 2)).toBeCloseTo(0.7012435149156939, 12);
  });

  it("is even over a patch and stays within 0 and 1", () => {
    let sum = 0;
    for (let x = 0; x < 60; x++) {
      for (let y = 0; y < 60; y++) {
        const height = tooth(x, y, 2.6);
        expect(height).toBeGreaterThanOrEqual(0);
        expect(height).toBeLessThanOrEqual(1);
        sum += height;
      }
    }
    expect(sum / 3600).toBeGreaterThan(0.45);
    expect(sum / 3600).toBeLessThan(0.55);
  });
});

describe("nibs", () => {
  it("carry size and tone, and only lifters lift", () => {
    for (const name of ["pencil", "fineliner", "marker", "mist", "grain"] as const) {
      expect(nibOf(name, 7, 0.4)).toMatchObject({ size: 7, tone: 0.4, lifts: false });
    }
    expect(nibOf("lifter", 1, 1).lifts).toBe(true);
    expect(nibOf("soft lifter", 1, 1)).toMatchObject({ lifts: true, soft: 0 });
  });
});

describe("guides", () => {
  const edge: Hold = {
    kind: "line",
    places: [
      [10, 20],
      [110, 20],
    ],
  };
  const oval: Hold = { kind: "ellipse", id: "b", centre: [300, 200], across: 120, down: 50, turn: 30 };

  it("hold a place to the nearest one of a straightedge, and not beyond its ends", () => {
    expect(nearest(edge, [50, 90])).toEqual([50, 20]);
    expect(nearest(edge, [500, 0])).toEqual([110, 20]);
  });

  it("hold a place to the nearest one of an ellipse, as searching all of it finds", () => {
    const turn = (30 * Math.PI) / 180;
    const around = Array.from({ length: 20_000 }, (_, k): [number, number] => {
      const t = (2 * Math.PI * k) / 20_000;
      const [u, v] = [120 * Math.cos(t), 50 * Math.sin(t)];
      return [300 + Math.cos(turn) * u - Math.sin(turn) * v, 200 + Math.sin(turn) * u + Math.cos(turn) * v];
    });
    for (const [x, y] of [
      [310, 140],
      [450, 260],
      [200, 190],
      [330, 215],
      [120, 400],
      [300.5, 260],
    ] as const) {
      const [nx, ny] = nearest(oval, [x, y]);
      const ours = Math.hypot(nx - x, ny - y);
      const searched = Math.min(...around.map(([a, b]) => Math.hypot(a - x, b - y)));
      expect(ours).toBeLessThan(searched + 0.02);
      const onto = Math.min(...around.map(([a, b]) => Math.hypot(a - nx, b - ny)));
      expect(onto).toBeLessThan(0.05);
    }
  });

  it("a circle is an ellipse like any other", () => {
    const ring: Hold = { kind: "ellipse", id: "c", centre: [0, 0], across: 80, down: 80 };
    const [x, y] = nearest(ring, [30, 40]);
    expect(x).toBeCloseTo(48, 6);
    expect(y).toBeCloseTo(64, 6);
  });

  it("are found within reach, the nearest first", () => {
    expect(holdAt([edge, oval], [60, 28], 10)).toBe(edge);
    expect(holdAt([edge, oval], [60, 40], 10)).toBeNull();
    expect(holdAt([], [0, 0], 99)).toBeNull();
  });

  it("holds to every piece of a bent line", () => {
    const bent: Hold = {
      kind: "line",
      places: [
        [0, 0],
        [100, 0],
        [100, 100],
      ],
    };
    expect(nearest(bent, [40, 7])).toEqual([40, 0]);
    expect(nearest(bent, [108, 60])).toEqual([100, 60]);
    expect(nearest(bent, [130, 160])).toEqual([100, 100]);
  });

  it("gathers what the sheet has drafted, and the box's visible edges where they show", () => {
    const ellipse = { kind: "ellipse", id: "e", centre: [5, 5], across: 4, down: 2, turn: 0 };
    const line = [
      [0, 0],
      [9, 0],
    ];
    const drafted = {
      guides: [
        { id: "l", lines: [line], fine: [line], ellipse: null },
        { id: "e", lines: [], fine: [], ellipse },
      ],
      box: {
        edges: [
          { along: 0, hidden: false, line },
          { along: 1, hidden: true, line },
        ],
        faces: [],
        eye: [0, 0, 0],
      },
    } as unknown as Parameters<typeof holdsOf>[0];
    expect(holdsOf(drafted, false).map((hold) => hold.kind)).toEqual(["line", "ellipse"]);
    expect(holdsOf(drafted, true)).toHaveLength(3);
  });

  const vanishing: Direction[] = [
    [-1000, 300, 1],
    [2000, 300, 1],
    [0, 1, 0],
  ];

  it("follows the direction the hand sets out in, through its vanishing point", () => {
    const hold = along(vanishing, [500, 600], [440, 590]);
    const [x, y] = nearest(hold, [-1000, 300]);
    expect(Math.hypot(x + 1000, y - 300)).toBeLessThan(1e-6);
    const [sx, sy] = nearest(hold, [500, 600]);
    expect(Math.hypot(sx - 500, sy - 600)).toBeLessThan(1e-6);
  });

  it("runs parallel where the vanishing point lies at infinity", () => {
    const hold = along(vanishing, [500, 600], [503, 650]);
    expect(nearest(hold, [520, 900])[0]).toBeCloseTo(500, 9);
  });
});

describe("broken lines", () => {
  it("have ink where the server has it: long, gap, short, gap", () => {
    const nib = nibOf("fineliner", 4, 1, "split");
    const unit = 4;
    const inked = [1, 7.9, 11.1, 12.1].map((at) => isInk(nib, at * unit));
    const bare = [8.1, 10.9, 12.3, 15.1].map((at) => isInk(nib, at * unit));
    expect(inked.every(Boolean)).toBe(true);
    expect(bare.some(Boolean)).toBe(false);
    expect(isInk(nib, 15.3 * unit)).toBe(true);
    expect(isInk(nibOf("fineliner", 4, 1), 9 * unit)).toBe(true);
  });
});
