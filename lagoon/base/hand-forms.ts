import { html, type Html } from './html.ts';

/** One thing people can do by hand to what is shown: a small form with a button. */
export interface HandForm {
  /** What stands on the button. */
  label: string;
  /** The act, as `/control/by-hand` takes it. */
  act: Record<string, string | number>;
  /** What is written with it: a field of the act by name, with what stands there now. */
  fields?: readonly { name: string; label: string; value?: string; lines?: number }[];
}

/**
 * A fold under something that is shown, with what its owner and its guests can do to it by hand: answer, edit, delete.
 * Nothing for who is not signed in.
 *
 * @param back the page to come back to
 */
export function byHand(person: unknown, back: string, forms: readonly HandForm[]): Html {
  if (!person) return html``;
  return html`<details class="by-hand">
    <summary>By hand</summary>
    ${forms.map(
      ({ label, act, fields = [] }) =>
        html`<form method="post" action="/control/by-hand">
          <input type="hidden" name="back" value="${back}" />
          ${Object.entries(act).map(([name, value]) => html`<input type="hidden" name="act.${name}" value="${value}" />`)}
          ${fields.map(
            (field) =>
              html`<label
                >${field.label}${
                  field.lines
                    ? html`<textarea name="act.${field.name}" rows="${field.lines}">${field.value}</textarea>`
                    : html`<input name="act.${field.name}" value="${field.value}" />`
                }</label
              >`,
          )}
          <button class="plain">${label}</button>
        </form>`,
    )}
  </details>`;
}

/** What is done by hand to a comment: answered as the owner of the place, edited or deleted as whoever wrote it. */
export function commentByHand(
  person: unknown,
  back: string,
  at: 'photos' | 'pages' | 'video',
  comment: { id: number; body: { text: string } },
): Html {
  return byHand(person, back, [
    {
      label: 'Answer as the owner',
      act: { do: 'answer-comment', at, id: comment.id },
      fields: [{ name: 'text', label: 'The answer' }],
    },
    {
      label: 'Edit it as whoever wrote it',
      act: { do: 'edit-comment', at, id: comment.id },
      fields: [{ name: 'text', label: 'The words', value: comment.body.text }],
    },
    { label: 'Delete it', act: { do: 'delete-comment', at, id: comment.id } },
  ]);
}
