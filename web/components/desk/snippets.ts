// Words of the brand's own while an answer is typed: "/" and the beginning of a name.
import { shallowRef } from 'vue';
import { everyPage } from '../../lib/pages.ts';
import type { Answer, DeskEntry } from '../../lib/types.ts';
import { useBrandHere } from '../../stores/brand-here.ts';

export type Snippet = Pick<Answer<'listSnippets'>['snippets'][number], 'name' | 'text'>;

/** What is being typed of a name: where the "/" stands, and what follows it up to the caret. */
export interface Typing {
  from: number;
  to: number;
  name: string;
}

/** @returns null where nothing of a name is being typed */
export function typingAt(text: string, caret: number): Typing | null {
  const found = /(?:^|\s)\/([\p{L}\p{N}_-]{0,40})$/u.exec(text.slice(0, caret));
  if (!found) return null;
  const name = found[1]!;
  return { from: caret - name.length - 1, to: caret, name };
}

/** Snippets whose names begin so, or have a part that does; those that begin so first. */
export function matching(snippets: readonly Snippet[], name: string, most = 8): Snippet[] {
  const wanted = name.toLowerCase();
  const begins = (each: Snippet) => each.name.toLowerCase().startsWith(wanted);
  const within = (each: Snippet) => !begins(each) && each.name.toLowerCase().includes(wanted);
  return [...snippets.filter(begins), ...snippets.filter(within)].slice(0, most);
}

/** What an answer's tokens stand for: those of the workflows, as far as the desk knows them. */
export const fieldsOf = (entry: DeskEntry) => ({
  person: { name: entry.contact.name },
  text: entry.text,
  location: entry.outlet,
  ...(entry.stars === null ? {} : { stars: entry.stars }),
});

/** A snippet as it is said to somebody: tokens such as {$person.name :firstName} are filled in. */
export async function wordsFor(snippet: Snippet, entry: DeskEntry, locale: string): Promise<string> {
  if (!snippet.text.includes('{')) return snippet.text;
  const { readCaption } = await import('@playa/core/captions/caption.ts');
  try {
    return readCaption(snippet.text, locale).format(fieldsOf(entry)).trim();
  } catch {
    // Braces that are none of ours are words too.
    return snippet.text;
  }
}

/** The brand's snippets, fetched when they are first wanted. */
export function useSnippets() {
  const here = useBrandHere();
  const all = shallowRef<readonly Snippet[]>([]);
  let asked: Promise<void> | undefined;
  const load = () =>
    (asked ??= everyPage('listSnippets', { brand: here.id.value }).then(
      (pages) => void (all.value = pages.flatMap((page) => page.snippets)),
      () => void (asked = undefined),
    ));
  return { all, load };
}
