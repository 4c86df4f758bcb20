/** Speed in screen px a millisecond at which a mouse line is at its thinnest. */
const FAST = 2.6;

/** Gives samples a pressure: a pen's own, or for a mouse a slow hand presses harder. */
export class Pressure {
  private last: { x: number; y: number; time: number } | null = null;
  private value = 0.55;

  of(event: PointerEvent): number {
    if (event.pointerType === "pen") return event.pressure;
    const now = { x: event.clientX, y: event.clientY, time: event.timeStamp };
    if (this.last && now.time > this.last.time) {
      const speed = Math.hypot(now.x - this.last.x, now.y - this.last.y) / (now.time - this.last.time);
      const wanted = 0.85 - 0.6 * Math.min(1, speed / FAST);
      this.value += 0.25 * (wanted - this.value);
    }
    this.last = now;
    return this.value;
  }
}
