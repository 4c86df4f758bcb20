/** Speed in screen px a millisecond at which a mouse line is at its thinnest. */
const FAST = 2.6;

/** Gives samples a pressure: a pen's own, or for a mouse a slow hand presses harder. */
export class Pressure {
  private before: { x: number; y: number; time: number } | null = null;
  /** What the newest sample was given. */
  last = 0.55;

  of(event: PointerEvent): number {
    if (event.pointerType === "pen") {
      this.last = event.pressure;
      return this.last;
    }
    const now = { x: event.clientX, y: event.clientY, time: event.timeStamp };
    if (this.before && now.time > this.before.time) {
      const speed = Math.hypot(now.x - this.before.x, now.y - this.before.y) / (now.time - this.before.time);
      const wanted = 0.85 - 0.6 * Math.min(1, speed / FAST);
      this.last += 0.25 * (wanted - this.last);
    }
    this.before = now;
    return this.last;
  }
}

/** How far a pen leans: 0 upright to about 30°, 1 from 70° on. */
export function leanOf(event: PointerEvent): number {
  if (event.pointerType !== "pen") return 0;
  const slope = (degrees: number) => Math.tan((Math.min(85, Math.abs(degrees)) * Math.PI) / 180);
  const tilt = (Math.atan(Math.hypot(slope(event.tiltX), slope(event.tiltY))) * 180) / Math.PI;
  return Math.min(1, Math.max(0, (tilt - 30) / 40));
}
