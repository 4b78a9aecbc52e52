import { describe, expect, it } from 'vitest';
import { parseHtml } from './parse-html.ts';
import { plainText } from './plain.ts';

/** What is told, as one line. */
function told(html: string): string {
  const said: string[] = [];
  parseHtml(html, {
    onopentag: (name) => said.push(`<${name}>`),
    ontext: (text) => said.push(text),
    onclosetag: (name) => said.push(`</${name}>`),
  });
  return said.join('');
}

describe('reading HTML', () => {
  it('tells what is there, in order', () => {
    expect(told('<p>A &amp; b<br>c</p>')).toBe('<p>A & b<br></br>c</p>');
  });

  it('loses no word however deep it stands, and closes what it opened', () => {
    const html = `before ${'<div>x'.repeat(5000)} deepest ${'</div>'.repeat(5000)} after`;
    const said = told(html);
    expect(said.replace(/<\/?div>/g, '')).toBe(`before ${'x'.repeat(5000)} deepest  after`);
    expect(said.match(/<div>/g)).toHaveLength(5000);
    expect(said.match(/<\/div>/g)).toHaveLength(5000);
  });

  it('still leaves out a script that stands deeper than one parser goes', () => {
    for (const depth of [998, 999, 1000, 1001, 2500])
      expect(plainText(`${'<b>'.repeat(depth)}read<script>if (a < b) "<p>never</p>"</script> on`)).toBe('read on');
  });
});
