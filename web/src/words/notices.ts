import type { NoticeKind, NoticeView, WebhookView } from '../api/client';
import { plural } from './numbers';
import { STATES } from './signals';
import { when } from './time';

/** What each kind tells of, where it is chosen. */
export const NOTICE_KINDS: Record<NoticeKind, string> = {
  episode_raised: 'A signal asks for an answer',
  open_too_long: 'A signal is open too long',
  sent_back: 'An answer was sent back',
  overruled: 'An answer was overruled',
  run_rejected: 'A control run was rejected',
  cause_proposed: 'A cause was proposed',
  mentioned: 'A note mentions somebody',
};

/** As it is said to whom it concerns. */
const SAID: Record<NoticeKind, string> = {
  ...NOTICE_KINDS,
  sent_back: 'Your answer was sent back',
  overruled: 'Your answer was overruled',
};

export const BELL = {
  title: 'Notices',
  of: (count: number) =>
    plural(count, { zero: 'Notices, none new', one: 'Notices, one new', other: `Notices, ${count} new` }),
  none: 'Nothing has concerned you in the last 30 days.',
  what: 'the notices',
  new: 'new',
};

export function said(notice: NoticeView): string {
  if (notice.point != null) return `${notice.point.person} mentions you in a note`;
  return SAID[notice.kind];
}

/** What it tells of, and where that stands now. */
export function about(notice: NoticeView): string {
  const run = notice.run_number == null ? null : `run ${notice.run_number}`;
  const point = notice.point == null ? null : `sample ${notice.point.number}`;
  const of = [notice.characteristic, point, notice.product, run, notice.cause, notice.station];
  const now = notice.state == null ? null : `now ${STATES[notice.state].toLowerCase()}`;
  return [of.filter((part) => part != null).join(', '), when(notice.at), now]
    .filter((part) => part != null)
    .join(' · ');
}

/** Notices by mail. */
export const WISHES = {
  title: 'Notices by mail',
  about:
    'They stand under the bell in any case. Where you belong somewhere, only what happens there is sent, and what is meant for you.',
  noMail: 'This installation sends no mail: no mail server is set up. What you choose is kept for when it does.',
  email: 'Your mailbox',
  keep: 'Keep',
  kept: 'It is kept.',
};

/** Other programs that are told. */
export const WEBHOOKS = {
  title: 'Webhooks',
  about:
    'Other programs that are told, each by a signed POST (Standard Webhooks 1.0). What cannot be sent is sent again for three days.',
  what: 'the webhooks',
  none: 'No program is told yet.',
  add: 'Set up a webhook',
  of: (name: string) => `Change ${name}`,
  change: 'Change',
  name: 'Name',
  url: 'Address',
  kinds: 'Told of',
  areas: 'Areas; none for all',
  active: 'Is told',
  keep: 'Keep',
  leave: 'Leave it',
  secret: (name: string) => `The secret of ${name}`,
  secretOnce: 'It is shown this once. The program checks with it that this installation told it.',
  copied: 'It is copied',
};

/** How a webhook fares. */
export function faring(webhook: WebhookView): string {
  const { sent, sent_at: sentAt, waiting, given_up: givenUp, failed, active } = webhook;
  return [
    !active && 'not told',
    plural(sent, { zero: 'told of nothing yet', one: 'told once', other: `told ${sent} times` }) +
      (sentAt == null ? '' : `, last ${when(sentAt)}`),
    waiting > 0 && plural(waiting, { one: 'one waits', other: `${waiting} wait` }),
    givenUp > 0 && plural(givenUp, { one: 'one was given up', other: `${givenUp} were given up` }),
    failed != null && `last failure: ${failed}`,
  ]
    .filter(Boolean)
    .join(' · ');
}
