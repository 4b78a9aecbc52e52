import { fieldLabel } from '../items/field-label.ts';
import { spokenLength } from '../text/durations.ts';
import { sayHours } from '../timetable/opening-hours.ts';
import type { Pace } from '../timetable/pace.ts';
import type { Settings } from './settings.ts';

/** The rules of a workflow, one short piece for each; none when nothing is set. */
export function saySettings(settings: Settings | undefined): string[] {
  if (!settings) return [];
  const {
    once,
    hours,
    pace,
    atOnce,
    inOrder,
    onFailure,
    stopAfter,
    onChange,
    whileOpen,
    whenTheyWrite,
    oldest,
    own,
    brake,
  } = settings;
  const label = (path: string) => fieldLabel(path).toLowerCase();
  const said: string[] = [];
  if (once) said.push(`once per ${label(once.by)}${once.within === null ? '' : ` in ${spokenLength(once.within)}`}`);
  if (hours) said.push(sayHours(hours));
  for (const [scope, rule] of [
    ['', pace.workflow],
    [' per account', pace.account],
    [' per outlet', pace.outlet],
  ] as const)
    if (rule) said.push(`${sayPace(rule)} apart${scope}`);
  if (atOnce !== null) said.push(`${atOnce} at once`);
  if (inOrder !== null) said.push(`in order per ${label(inOrder)}`);
  if (onFailure.do === 'skip') said.push('skips what fails');
  if (onFailure.do === 'end') said.push('ends when something fails');
  if (onFailure.do === 'steps') said.push('steps for failures');
  if (stopAfter !== null) said.push(`pauses after ${stopAfter} ${stopAfter === 1 ? 'failure' : 'failures in a row'}`);
  if (onChange !== null) said.push(`again when ${onChange.map(label).join(' or ')} changes`);
  if (whileOpen === 'keep') said.push('goes on as it was when the item changes');
  if (whileOpen === 'end') said.push('ends when the item changes');
  if (whenTheyWrite === 'end') said.push('ends when they write again');
  if (oldest === null) said.push('takes things of any age');
  else if (oldest !== undefined) said.push(`leaves out what is older than ${spokenLength(oldest)}`);
  if (own === 'start') said.push('also what Playa itself posts');
  if (brake) said.push(`pauses at ${brake.hour} posts an hour or ${brake.day} a day at one outlet`);
  return said;
}

function sayPace({ gap, jitter }: Pace): string {
  return jitter === 0 ? spokenLength(gap) : `${spokenLength(gap)} to ${spokenLength(gap + jitter)}`;
}
