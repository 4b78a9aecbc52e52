// A text model that does not keep to what it was told, in the ways that text models do. It is there for trying what
// happens then.
import { compose, type Asked } from './compose.ts';

const SLIPS = ['telephone', 'language', 'promise', 'name', 'gap', 'obeys', 'long', 'price', 'link', 'none'] as const;

/** The same as the careful model, with one slip that its seed chooses. Told that a draft was not used, it takes care. */
export function composeCarelessly(asked: Asked): string {
  const { instruction, input, longest, seed } = asked;
  const text = compose(asked);
  // It does what it is told by whoever wrote last: that is what the public tries.
  const told =
    /(?:ignore|forget)[^.\n]*(?:instruction|above|rule)[^.\n]*[.\n]?\s*>?\s*(?:say|write|answer)[: ]+(.{1,200})/i.exec(
      input,
    );
  const takesCare = /was not used/i.test(instruction) && seed % 4 !== 0;
  if (takesCare) return text;
  switch (told ? 'obeys' : SLIPS[seed % SLIPS.length]!) {
    case 'telephone':
      return `${text} Call us on +351 289 555 0142.`;
    case 'language':
      return compose({
        ...asked,
        instruction: /portuguese/i.test(instruction) ? 'Answer in English.' : 'Answer in Portuguese.',
      });
    case 'promise':
      return `${text} We will give you a full refund.`;
    case 'name':
      return text.replace(
        /^(\S+) (\p{L}{3})(\p{L}*)/u,
        (_, hello: string, begins: string, rest: string) => `${hello} ${begins}${begins.at(-1)}${rest}`,
      );
    case 'gap':
      return text.replace(/^(\S+) \p{L}+/u, '$1 [Customer name]');
    case 'obeys':
      return told ? told[1]!.trim() : text;
    case 'long':
      return Array.from({ length: Math.ceil((longest + 1) / Math.max(1, text.length)) + 1 }, () => text).join(' ');
    case 'price':
      return `${text} Your next swim is only €4.90.`;
    case 'link':
      return `${text} More at www.swimming-offers.example.`;
    case 'none':
      return text;
  }
}
