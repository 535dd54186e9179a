import { toast } from 'sonner';
import type { Editor } from '../../state/editor.ts';

/**
 * Tells of the change just made, with a button that takes back exactly that one; the message goes as soon as something
 * else happens, when the button would take back another.
 */
export function toastUndo(editor: Editor, message: string): void {
  const step = editor.newestStep;
  const shown = toast(message, { action: { label: 'Undo', onClick: () => editor.undoStep(step) } });
  const stop = editor.subscribe(() => {
    if (editor.newestStep === step) return;
    stop();
    toast.dismiss(shown);
  });
}
