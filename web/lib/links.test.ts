import { expect, it } from 'vitest';
import { webHref } from './links.ts';

it('links lead to the web and to mail, and run nothing', () => {
  for (const fine of ['https://lidos.example/a?b=c#d', 'http://lidos.example', 'mailto:mo@ternbay.example'])
    expect(webHref(fine)).toBe(fine);
  for (const other of [
    'javascript:alert(1)',
    ' JaVaScRiPt:alert(1)',
    'java\nscript:alert(1)',
    'data:text/html,<b>x</b>',
    'vbscript:x',
    'file:///etc/passwd',
    'blob:https://lidos.example/1',
    'no address',
    '',
    null,
    undefined,
  ])
    expect(webHref(other), String(other)).toBeUndefined();
});
