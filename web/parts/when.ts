import { differenceInCalendarDays } from 'date-fns';

const time = new Intl.DateTimeFormat(undefined, { hour: '2-digit', minute: '2-digit' });
const day = new Intl.DateTimeFormat(undefined, { weekday: 'short', day: 'numeric', month: 'short' });

/** An instant as people say it: "today 18:00", "tomorrow 09:30", "Tue, 3 Nov 18:00". */
export function when(iso: string, now = new Date()): string {
  const at = new Date(iso);
  const days = differenceInCalendarDays(at, now);
  const names: Record<string, string> = { '-1': 'yesterday', '0': 'today', '1': 'tomorrow' };
  return `${names[String(days)] ?? day.format(at)} ${time.format(at)}`;
}

/** The value of a `datetime-local` field for an instant, in this browser's time zone. */
export function localValue(at: Date): string {
  const pad = (n: number) => String(n).padStart(2, '0');
  return `${at.getFullYear()}-${pad(at.getMonth() + 1)}-${pad(at.getDate())}T${pad(at.getHours())}:${pad(at.getMinutes())}`;
}
