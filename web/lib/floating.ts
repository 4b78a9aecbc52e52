import { onClickOutside } from '@vueuse/core';
import { ref, useTemplateRef, type Ref } from 'vue';
import { beside } from './beside.ts';

/** A panel (`ref="panel"`) that a button opens beside itself, and that a click anywhere else closes. */
export function useFloating(width: number): {
  open: Ref<boolean>;
  style: Ref<Record<string, string>>;
  toggle: (event: MouseEvent) => void;
} {
  const open = ref(false);
  const panel = useTemplateRef<HTMLElement>('panel');
  const button = ref<HTMLElement>();
  const style = ref<Record<string, string>>({});
  onClickOutside(panel, () => (open.value = false), { ignore: [button] });
  return {
    open,
    style,
    toggle(event) {
      button.value = event.currentTarget as HTMLElement;
      style.value = beside(button.value.getBoundingClientRect(), width);
      open.value = !open.value;
    },
  };
}
