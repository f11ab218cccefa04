import { LOCALE } from './locale';

const FORMS = {
  clock: { hour: '2-digit', minute: '2-digit' },
  parts: {
    year: 'numeric',
    month: 'numeric',
    day: 'numeric',
    hour: 'numeric',
    minute: 'numeric',
    hourCycle: 'h23',
  },
  day: { weekday: 'short', day: 'numeric', month: 'short' },
  date: { day: 'numeric', month: 'short', year: 'numeric' },
} satisfies Record<string, Intl.DateTimeFormatOptions>;

type Form = keyof typeof FORMS;

/** The clock that hangs at the site; the one of the device until it is known. */
let site: string | undefined;

/** By the site's clock. Making each takes some ten milliseconds, which the first page has no use for but once or twice. */
let formats: Partial<Record<Form, Intl.DateTimeFormat>> = {};

function inForm(form: Form): Intl.DateTimeFormat {
  // What is read again as numbers is written for that, not for people.
  const locale = form === 'parts' ? 'en-GB' : LOCALE;
  return (formats[form] ??= new Intl.DateTimeFormat(locale, { ...FORMS[form], timeZone: site }));
}

/** From here on times are those of the site's clock, whatever the device is set to. */
export function hangClock(timeZone: string) {
  if (timeZone === site) return;
  [site, formats] = [timeZone, {}];
}

/** A moment, as the server writes it or in milliseconds since 1970. */
type Moment = string | number;

/** Hour and minute. */
export function atClock(time: Moment): string {
  return inForm('clock').format(new Date(time));
}

/** Hour and minute today, with the day before it on other days. */
export function when(time: Moment, now = new Date()): string {
  const day = onDay(time);
  return day === inForm('day').format(now) ? atClock(time) : `${day}, ${atClock(time)}`;
}

/** The moment that a date and a time of the site's clock name, as they stand in a field; nothing for what is none. */
export function momentOf(typed: string): string | null {
  const [, year, month, day, hour, minute] = (/^(\d{4})-(\d\d)-(\d\d)T(\d\d):(\d\d)/.exec(typed) ?? []).map(Number);
  if (year === undefined || month === undefined || day === undefined) return null;
  const asIfUtc = Date.UTC(year, month - 1, day, hour, minute);
  // What the site's clock is ahead; asked twice, since it may be set over between.
  const ahead = (at: number) => {
    const parts = Object.fromEntries(
      inForm('parts')
        .formatToParts(at)
        .map(({ type, value }) => [type, Number(value)]),
    );
    const shown = Date.UTC(
      parts.year ?? 0,
      (parts.month ?? 1) - 1,
      parts.day ?? 1,
      (parts.hour ?? 0) % 24,
      parts.minute ?? 0,
    );
    return shown - Math.floor(at / 60_000) * 60_000;
  };
  const near = asIfUtc - ahead(asIfUtc);
  return new Date(asIfUtc - ahead(near)).toISOString();
}

/** The day of the site's calendar as a field of dates has it: `2026-03-09`. */
export function dayOf(time: Moment): string {
  const parts = Object.fromEntries(
    inForm('parts')
      .formatToParts(new Date(time))
      .map(({ type, value }) => [type, value]),
  );
  const two = (text: string | undefined) => (text ?? '').padStart(2, '0');
  return `${parts.year}-${two(parts.month)}-${two(parts.day)}`;
}

/** The day with its year, as papers carry it. */
export function onDate(time: Moment): string {
  return inForm('date').format(new Date(time));
}

/** The day. */
export function onDay(time: Moment): string {
  return inForm('day').format(new Date(time));
}

/** A stretch of time in words: 40 min, 3 h 05 min, 2 days. */
export function stretch(milliseconds: number): string {
  const minutes = Math.max(0, Math.round(milliseconds / 60_000));
  if (minutes < 60) return `${minutes} min`;
  const hours = Math.floor(minutes / 60);
  if (hours < 48) return `${hours} h ${String(minutes % 60).padStart(2, '0')} min`;
  return `${Math.floor(hours / 24)} days`;
}

/** How long ago a time was, in words. */
export function ago(time: string): string {
  return stretch(Date.now() - Date.parse(time));
}
