import { defineStore } from 'pinia';
import { ref } from 'vue';

interface Notice {
  id: number;
  text: string;
  kind: 'said' | 'wrong';
  undo?: (() => void) | undefined;
}

/** Short messages at the foot of the screen; screen readers hear them. */
export const useNotices = defineStore('notices', () => {
  const list = ref<Notice[]>([]);
  let last = 0;
  function drop(id: number) {
    list.value = list.value.filter((notice) => notice.id !== id);
  }
  function add(text: string, kind: Notice['kind'], undo?: () => void) {
    const id = ++last;
    list.value = [...list.value.slice(-2), { id, text, kind, undo }];
    setTimeout(() => drop(id), kind === 'wrong' ? 12_000 : 6_000);
  }
  return {
    list,
    drop,
    say: (text: string, undo?: () => void) => add(text, 'said', undo),
    wrong: (error: unknown) => add(error instanceof Error ? error.message : String(error), 'wrong'),
  };
});
