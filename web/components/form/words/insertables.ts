import { computed, type ComputedRef } from 'vue';
import { snippetField } from '@playa/core/workflow/snippets.ts';
import { fieldText, readField } from '@playa/core/items/read-field.ts';
import { useEditor } from '../../../stores/editor.ts';

/** Something that can be put into words, with what it says for the chosen item. */
export interface Insertable {
  field: string;
  label: string;
  value: string;
  sort: 'field' | 'snippet';
}

/** The fields and snippets that a wording of the chosen step can use. */
export function useInsertables(): ComputedRef<Insertable[]> {
  const editor = useEditor();
  return computed(() => [
    ...editor.usable.map((field): Insertable => ({
      field: field.path,
      label: field.label,
      value: fieldText(readField(editor.chosenItem?.fields ?? {}, field.path)),
      sort: 'field',
    })),
    ...[...(editor.world.snippets ?? [])].map(([name, text]): Insertable => ({
      field: snippetField(name),
      label: name,
      value: text,
      sort: 'snippet',
    })),
  ]);
}
