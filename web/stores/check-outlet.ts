import { call } from '../lib/api.ts';
import { useEditor } from './editor.ts';
import { useNotices } from './notices.ts';
import { useSession } from './session.ts';

/** Looks, as soon as an outlet is chosen, whether Playa may act there; not only at the first post. */
export function useOutletCheck(): (outlet: number) => Promise<void> {
  const session = useSession();
  const editor = useEditor();
  const notices = useNotices();
  return async (outlet) => {
    try {
      const found = await call('checkOutlet', { brand: session.brandId, id: outlet });
      const known = editor.world.outlets.get(outlet)?.trouble !== undefined;
      // What is missing shows where the outlet was chosen, and as something to settle.
      if (found.ok === known) await editor.refreshWorld();
    } catch (error) {
      notices.wrong(error);
    }
  };
}
