/** What a document without a screen lacks: addresses that lead to the server, sizes, a canvas. */
import { act, cleanup, configure } from "@testing-library/react";
import { afterEach, inject, vi } from "vitest";
import type { Page } from "../../src/paper/page";

const SERVER = inject("server");
configure({
  defaultHidden: true, // whether something is hidden is asked of every ancestor's style, which is slow here
  getElementError: (message) => new Error(message?.split("\n\n")[0]), // without the whole page in it
});
/** The canvas's size on the screen, px: what a window of 1280 × 800 leaves it. */
export const CANVAS = { width: 733, height: 705 };

// nothing is drawn here; the scene's own tests are the browser's
vi.mock("@react-three/fiber", () => ({ Canvas: () => null, useThree: () => ({}), useFrame: () => {} }));

/** The pages of sheets as they are made, newest last. */
export const pages: Page[] = [];
vi.mock("../../src/paper/page", async (load) => {
  const { Page } = await load<typeof import("../../src/paper/page")>();
  return {
    Page: class extends Page {
      constructor(...given: ConstructorParameters<typeof Page>) {
        super(...given);
        pages.push(this);
      }
    },
  };
});

class ServersRequest extends Request {
  constructor(input: RequestInfo | URL, init?: RequestInit) {
    super(typeof input === "string" ? new URL(input, SERVER) : input, init);
  }
}
/** `fetch` as it was: what the tests themselves ask does not go over the wire they tamper with. */
export const direct = globalThis.fetch;
/** What happens to a request on its way; a test that has bad moments puts its own in place. */
type Wire = (request: Request, go: () => Promise<Response>) => Promise<Response>;
export const wire: { is: Wire } = { is: (_, go) => go() };
vi.stubGlobal("Request", ServersRequest);
vi.stubGlobal("fetch", (input: RequestInfo | URL, init?: RequestInit) => {
  const request = new ServersRequest(input as string, init);
  return wire.is(request, () => direct(request.clone()));
});
afterEach(() => {
  wire.is = (_, go) => go();
});

/** News of other tabs; a test brings it by hand. */
class Stream extends EventTarget {
  static last: Stream | null = null;
  onerror: (() => void) | null = null;
  constructor() {
    super();
    Stream.last = this;
  }
  close() {}
}
vi.stubGlobal("EventSource", Stream);
/** The stream of news is cut off. */
export const breakStream = () => act(async () => Stream.last?.onerror?.());
export const news = (name: string, data: object) =>
  Stream.last?.dispatchEvent(new MessageEvent(name, { data: JSON.stringify(data) }));

vi.stubGlobal(
  "ResizeObserver",
  class {
    constructor(private readonly told: (entries: { contentRect: DOMRect }[]) => void) {}
    observe(target: Element) {
      this.told([{ contentRect: target.getBoundingClientRect() }]);
    }
    unobserve() {}
    disconnect() {}
  },
);
Element.prototype.getBoundingClientRect = () => new DOMRect(0, 0, CANVAS.width, CANVAS.height);
Element.prototype.setPointerCapture = () => {};
Element.prototype.releasePointerCapture = () => {};
Element.prototype.hasPointerCapture = () => false;
Element.prototype.scrollIntoView = () => {};

/** Takes every call and does nothing. */
const nothing: unknown = new Proxy(class {}, {
  get: (_, name) => (name === Symbol.toPrimitive ? () => 0 : nothing),
  apply: () => nothing,
  construct: () => nothing as object,
});
/** A canvas on which nothing shows; ink is worked out pixel by pixel, which has to be quick. */
const context = Object.assign(Object.create(nothing as object), {
  createImageData: (width: number, height: number) => ({
    width,
    height,
    data: new Uint8ClampedArray(width * height * 4),
  }),
});
HTMLCanvasElement.prototype.getContext = () => context as never;
class Canvas {
  getContext = () => context;
}
vi.stubGlobal("OffscreenCanvas", Canvas);
for (const name of ["ImageData", "Path2D"]) vi.stubGlobal(name, nothing);

afterEach(cleanup);
