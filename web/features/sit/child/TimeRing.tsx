const RADIUS = 46;
const ROUND = 2 * Math.PI * RADIUS;

/** Time that is left, as a ring that goes round and is gone: nothing to read. Its middle is what is pressed. */
export function TimeRing({ leftMs, limitMs }: { leftMs: number; limitMs: number }) {
  const left = Math.min(1, Math.max(0, leftMs / Math.max(1, limitMs)));
  return (
    <svg
      aria-hidden
      data-testid="time-left"
      data-left-ms={Math.round(leftMs)}
      viewBox="0 0 100 100"
      className="pointer-events-none absolute -inset-5 -rotate-90"
    >
      <circle cx="50" cy="50" r={RADIUS} fill="none" strokeWidth="7" className="stroke-line" />
      <circle
        cx="50"
        cy="50"
        r={RADIUS}
        fill="none"
        strokeWidth="7"
        className="stroke-ink"
        strokeDasharray={`${left * ROUND} ${ROUND}`}
      />
    </svg>
  );
}
