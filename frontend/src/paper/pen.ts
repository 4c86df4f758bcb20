import { along, type Direction, type Hold, holdAt, nearest } from "./guides";
import type { Nib } from "./nibs";
import type { Page } from "./page";
import { leanOf, Pressure } from "./pressure";
import { copiesOf, type Symmetry } from "./symmetry";
import { type Look, WetStroke } from "./wetInk";

export interface PenSettings {
  page: Page;
  nib: Nib;
  colour: [number, number, number];
  symmetry: Symmetry | null;
  look: Look;
  /** Page px the line hangs behind the pen, which steadies it. */
  steady: number;
  /** What a line holds to when it begins within `reach` screen px of it. */
  holds: Hold[];
  reach: number;
  /** Directions every line holds to, the one the hand sets out in; none where lines are free. */
  directions: Direction[];
  /** The nib of a line that holds to something. */
  heldNib: Nib;
}

/** Screen px a hand goes before the direction it sets out in is known. */
const SETTING_OUT = 9;

type Place = [x: number, y: number];

/** One line under the pen, from its first touch on: held to guides, steadied, its pressure read. */
export class Pen {
  readonly wet: WetStroke;
  private readonly pressure = new Pressure();
  private held: Hold | null;
  private pulled: Place | null = null;
  /** Samples of a line whose direction the hand has not shown yet. */
  private waiting: PointerEvent[] = [];

  /** `place` tells where an event lies on the page; `scale` is screen px a page px. */
  constructor(
    private readonly settings: PenSettings,
    private readonly place: (event: PointerEvent) => Place,
    private readonly scale: number,
    touch: PointerEvent,
  ) {
    const { page, nib, heldNib, colour, symmetry, look, holds, reach, directions } = settings;
    this.held = holdAt(holds, place(touch), reach / scale);
    const waits = !this.held && directions.length > 0;
    const drawn = this.held || waits ? heldNib : nib;
    this.wet = new WetStroke(page.width, page.height, drawn, colour, symmetry ? copiesOf(symmetry) : [], look);
    if (waits) this.waiting = [touch];
    else this.add(touch);
  }

  follow(event: PointerEvent): void {
    const [touch] = this.waiting;
    if (touch) this.setOut(touch, event);
    else this.add(event);
  }

  private setOut(touch: PointerEvent, event: PointerEvent): void {
    this.waiting.push(event);
    const [from, to] = [this.place(touch), this.place(event)];
    if (Math.hypot(to[0] - from[0], to[1] - from[1]) * this.scale < SETTING_OUT) return;
    this.held = along(this.settings.directions, from, to);
    for (const sample of this.waiting) this.add(sample);
    this.waiting = [];
  }

  /** Lifts the pen; answers with the finished line. */
  lift(event: PointerEvent): WetStroke {
    const [touch] = this.waiting;
    if (touch) this.add(touch); // the hand never set out: a dot where it touched
    // a steadied line hangs behind the pen: let it arrive
    if (this.settings.steady > 0 && this.wet.length > 1) this.wet.add(...this.onHold(event), this.pressure.last);
    this.wet.finish();
    return this.wet;
  }

  private onHold(event: PointerEvent): Place {
    const at = this.place(event);
    return this.held ? nearest(this.held, at) : at;
  }

  private add(event: PointerEvent): void {
    const [x, y] = this.onHold(event);
    const { steady } = this.settings;
    if (this.pulled && steady > 0) {
      const [fromX, fromY] = this.pulled;
      const away = Math.hypot(x - fromX, y - fromY);
      if (away <= steady) return;
      const share = (away - steady) / away;
      this.pulled = [fromX + (x - fromX) * share, fromY + (y - fromY) * share];
    } else this.pulled = [x, y];
    this.wet.add(...this.pulled, this.pressure.of(event), leanOf(event));
  }
}
