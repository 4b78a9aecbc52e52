import { defineStore } from 'pinia';
import { shallowRef } from 'vue';

/** Where a field goes that is clicked in the list: the wording that was last worked on. */
export const useInsertion = defineStore('insertion', () => {
  const target = shallowRef<((field: string) => void) | null>(null);
  return {
    target,
    take: (insert: (field: string) => void) => (target.value = insert),
    leave: (insert: (field: string) => void) => {
      if (target.value === insert) target.value = null;
    },
  };
});
