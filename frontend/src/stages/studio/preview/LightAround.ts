import {
  BackSide,
  BufferAttribute,
  BufferGeometry,
  Color,
  DoubleSide,
  Mesh,
  MeshBasicMaterial,
  PMREMGenerator,
  Scene,
  SphereGeometry,
  type Texture,
  Vector3,
  type WebGLRenderer,
  type WebGLRenderTarget,
} from "three";
import type { Shapes } from "../../../api/client";
import { shellOf } from "./shell";

type Three = [number, number, number];
type StagedLamp = Shapes["StagedLampShape"];

/** What is mirrored in the product beside the lamps: cards, the place they are seen from, what the ground throws back, the room. */
export interface Lit {
  cards: StagedLamp[];
  centre: Three;
  ground: Three | null;
  room: Three;
  gain: Three;
}

/** ms that filtering an environment may take for it to follow a moving hand; above, it waits until the hand rests. */
export const FOLLOWS = 120;
const RESTS = 350;
/** ms that it may take once the hand rests; above, reflections stay coarse. */
export const WORTH = 1500;
/** Px of a side of the cube that is reflected: at first, and where the machine has the time. */
const COARSE = 128;
const FINE = 256;
/** How many times as long a fine one takes, measured where it is drawn in software; half of a coarse one's work is the same for both. */
const FINER = 3;

/** three itself makes no cube below 256 px, whatever it is asked for. */
class AnySize extends PMREMGenerator {
  declare _cubeSize: number;
  _setSize(size: number) {
    this._cubeSize = size;
  }
}

/**
 * A scene's environment, by one generator. While the machine still draws one, only the newest wish is kept. A coarse one comes at
 * once and tells how long a fine one will take.
 */
export class LightAround {
  private maker: PMREMGenerator;
  private target: WebGLRenderTarget | null = null;
  private wish: Wish | null = null;
  private waiting: number | null = null;
  /** ms that a fine one takes, once one of either size was made. */
  private takes: number | null = null;
  private drawing = false;

  constructor(
    private gl: WebGLRenderer,
    private scene: Scene,
    private shown: () => void,
    private onTook: (ms: number) => void,
  ) {
    this.maker = new AnySize(gl);
  }

  become(lit: Lit, map: Texture | null) {
    this.wish = { lit, map };
    if (this.drawing) return;
    if (this.waiting !== null) window.clearTimeout(this.waiting);
    this.waiting = null;
    if ((this.takes ?? 0) / FINER > FOLLOWS) this.waiting = window.setTimeout(() => this.make(COARSE), RESTS);
    else this.make(this.takes !== null && this.takes <= FOLLOWS ? FINE : COARSE);
  }

  dispose() {
    if (this.waiting !== null) window.clearTimeout(this.waiting);
    this.waiting = null;
    this.drawing = false;
    this.target?.dispose();
    this.maker.dispose();
  }

  private make(size: number) {
    this.waiting = null;
    if (!this.wish) return;
    const wish = this.wish;
    const room = surroundings(wish);
    this.wish = null;
    const before = this.target;
    this.target = this.maker.fromScene(room, 0, 10, 20000, { size });
    before?.dispose();
    for (const item of room.children as Mesh<BufferGeometry, MeshBasicMaterial>[]) {
      item.geometry.dispose();
      item.material.dispose();
    }
    this.scene.environment = this.target.texture;
    this.shown();
    this.drawing = true;
    const context = this.gl.getContext() as WebGL2RenderingContext;
    const since = performance.now();
    this.drawn(context, context.fenceSync(context.SYNC_GPU_COMMANDS_COMPLETE, 0), () => {
      this.takes = (performance.now() - since) * (size < FINE ? FINER : 1);
      this.onTook(this.takes);
      if (this.wish) this.become(this.wish.lit, this.wish.map);
      else if (size < FINE && this.takes <= WORTH) {
        this.wish = wish;
        this.waiting = window.setTimeout(() => this.make(FINE), this.takes > FOLLOWS ? RESTS : 0);
      }
    });
    context.flush();
  }

  /** Waits until the machine has done what was asked of it, then makes the newest wish if there is one. */
  private drawn(context: WebGL2RenderingContext, fence: WebGLSync | null, then: () => void) {
    this.waiting = window.setTimeout(() => {
      const waits = fence && context.getSyncParameter(fence, context.SYNC_STATUS) === context.UNSIGNALED;
      if (waits) return this.drawn(context, fence, then);
      context.deleteSync(fence);
      this.drawing = false;
      this.waiting = null;
      then();
    }, 16);
  }
}

interface Wish {
  lit: Lit;
  map: Texture | null;
}

function surroundings({ lit, map }: Wish): Scene {
  const { cards, centre, ground, room, gain } = lit;
  const around = new Scene();
  if (map) around.add(shellOf(map, gain));
  else
    around.add(
      new Mesh(new SphereGeometry(9000), new MeshBasicMaterial({ color: new Color(...room), side: BackSide })),
    );
  if (ground) {
    const floor = new Mesh(
      new SphereGeometry(8000, 24, 12, 0, Math.PI * 2, Math.PI / 2, Math.PI / 2),
      new MeshBasicMaterial({ color: new Color(...ground), side: BackSide }),
    );
    floor.rotation.x = Math.PI / 2;
    around.add(floor);
  }
  const middle = new Vector3(...centre);
  for (const card of cards) {
    const [at, across, up] = [card.middle, card.across, card.up].map((way) => new Vector3(...(way as Three)));
    const corners = [
      [-1, -1],
      [1, -1],
      [1, 1],
      [-1, 1],
    ].flatMap(([x, y]) => at!.clone().sub(middle).addScaledVector(across!, x!).addScaledVector(up!, y!).toArray());
    const quad = new BufferGeometry();
    quad.setAttribute("position", new BufferAttribute(new Float32Array(corners), 3));
    quad.setIndex([0, 2, 1, 0, 3, 2]);
    const color = new Color(...(card.radiance.map((value, k) => value * gain[k]!) as Three));
    around.add(new Mesh(quad, new MeshBasicMaterial({ color, toneMapped: false, side: DoubleSide })));
  }
  return around;
}
