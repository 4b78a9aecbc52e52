import { nextTick, ref, watch, type Ref } from 'vue';

/**
 * What somebody is typing into a field of several parts: told at once, and once more when the field is left. News that
 * come meanwhile do not take it away; a value that is refused when it is left gives way to the one before.
 *
 * @param value the value from outside
 * @param tell hears every change
 * @param settled hears a change once the field is left
 * @param meant what is told of what stands there, where that is not all of it yet
 */
export function useTyped(
  value: () => string,
  tell: (text: string) => void,
  settled: (text: string) => void,
  meant: (text: string) => string = (text) => text,
): {
  typed: Ref<string>;
  type: (text: string) => void;
  focused: () => void;
  left: (event: FocusEvent) => void;
  settle: () => void;
} {
  const typed = ref(value());
  let before = typed.value;
  let inside = false;
  watch(value, (text) => {
    // What somebody is in the middle of typing stays; what they have left, or only looked at, follows the news.
    if (!inside || typed.value === before) before = typed.value = text;
  });
  function type(text: string) {
    if (text === typed.value) return;
    const told = meant(typed.value);
    typed.value = text;
    if (meant(text) !== told) tell(meant(text));
  }
  function settle() {
    if (typed.value === before) return;
    before = typed.value;
    settled(meant(typed.value));
    // Whoever refuses it leaves the value as it was.
    void nextTick(() => (before = typed.value = value()));
  }
  return {
    typed,
    type,
    settle,
    focused() {
      if (!inside) before = typed.value;
      inside = true;
    },
    left(event) {
      if ((event.currentTarget as HTMLElement).contains(event.relatedTarget as Node | null)) return;
      inside = false;
      settle();
    },
  };
}
