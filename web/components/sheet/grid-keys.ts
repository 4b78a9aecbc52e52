// The run sheet from the keyboard: the arrows move from cell to cell, letters do something to the row.
import { nextTick, type Ref } from 'vue';
import { useEditor } from '../../stores/editor.ts';

interface Grid {
  /** The cell that is in the tab order; column -1 is the head of the row. */
  focus: Readonly<Ref<{ row: string; column: number }>>;
  /** The ids of the rows, from above. */
  rows: Readonly<Ref<readonly string[]>>;
  /** The last column. */
  last: () => number;
  focusCell: (row: string, column: number) => void;
  /** To the next item with a problem. */
  jump: (by: 1 | -1) => void;
  add: () => void;
  edit: () => void;
}

/** @returns what a key that was pressed anywhere in the grid does */
export function gridKeys({ focus, rows, last, focusCell, jump, add, edit }: Grid) {
  const editor = useEditor();
  return function onKey(event: KeyboardEvent): void {
    // What is typed into the list of steps belongs to it.
    if ((event.target as HTMLElement).closest('input, textarea, select')) return;
    const { row, column } = focus.value;
    const index = rows.value.indexOf(row);
    const step = editor.rows.find((each) => each.id === row && each.type === 'step');
    const modified = event.ctrlKey || event.metaKey;
    const act = (what: () => void) => {
      event.preventDefault();
      event.stopPropagation();
      what();
    };
    const refocus = () => void nextTick(() => focusCell(editor.row, focus.value.column));
    if (event.altKey && (event.key === 'ArrowUp' || event.key === 'ArrowDown') && step) {
      return act(() => {
        editor.moveStep(row, event.key === 'ArrowUp' ? -1 : 1);
        refocus();
      });
    }
    if (modified && event.key.toLowerCase() === 'd' && step) return act(() => (editor.doubleStep(row), refocus()));
    if (modified || event.altKey) return;
    switch (event.key) {
      case 'ArrowUp':
        return act(() => focusCell(rows.value[Math.max(0, index - 1)]!, column));
      case 'ArrowDown':
        return act(() => focusCell(rows.value[Math.min(rows.value.length - 1, index + 1)]!, column));
      case 'ArrowLeft':
        return act(() => focusCell(row, Math.max(-1, column - 1)));
      case 'ArrowRight':
        return act(() => focusCell(row, Math.min(last(), column + 1)));
      case 'Home':
        return act(() => focusCell(row, -1));
      case 'End':
        return act(() => focusCell(row, last()));
      case 'Enter':
        return act(() => edit());
      case 'a':
      case 'A':
        return act(() => add());
      case 'x':
      case 'X':
        if (step) act(() => editor.toggleStep(row));
        return;
      case 'Delete':
        if (step) act(() => (editor.removeStep(row), refocus()));
        return;
      case '[':
      case ']':
        return act(() => jump(event.key === ']' ? 1 : -1));
    }
  };
}
