import { differenceInCalendarDays } from 'date-fns';
import { locale } from '../base/i18n';

/** An instant as people say it: "today 18:00", "tomorrow 09:30", "Tue, 3 Nov 18:00", in the screen's language. */
export function when(iso: string, now = new Date()): string {
  const at = new Date(iso);
  const days = differenceInCalendarDays(at, now);
  const tag = locale();
  const day =
    Math.abs(days) <= 1
      ? new Intl.RelativeTimeFormat(tag, { numeric: 'auto' }).format(days, 'day')
      : new Intl.DateTimeFormat(tag, { weekday: 'short', day: 'numeric', month: 'short' }).format(at);
  return `${day} ${new Intl.DateTimeFormat(tag, { hour: '2-digit', minute: '2-digit' }).format(at)}`;
}

/** The value of a `datetime-local` field for an instant, in this browser's time zone. */
export function localValue(at: Date): string {
  const pad = (n: number) => String(n).padStart(2, '0');
  return `${at.getFullYear()}-${pad(at.getMonth() + 1)}-${pad(at.getDate())}T${pad(at.getHours())}:${pad(at.getMinutes())}`;
}
