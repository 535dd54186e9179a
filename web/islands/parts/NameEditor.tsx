import { useEffect, useRef } from 'react';

export interface NameEditorProps {
  name: string;
  label: string;
  onDone(name: string | null): void;
}

/** A name in place of its text: Enter keeps it, Escape does not. */
export function NameEditor({ name, label, onDone }: NameEditorProps) {
  const input = useRef<HTMLInputElement>(null);
  const isDone = useRef(false);
  useEffect(function selectAll() {
    input.current?.focus();
    input.current?.select();
  }, []);
  const finish = (value: string | null): void => {
    if (isDone.current) return;
    isDone.current = true;
    const cleaned = value?.trim() ?? '';
    onDone(cleaned === '' || cleaned === name ? null : cleaned);
  };
  return (
    <input
      ref={input}
      className="field"
      aria-label={label}
      defaultValue={name}
      maxLength={200}
      onBlur={(event) => finish(event.target.value)}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === 'Enter') finish(event.currentTarget.value);
        else if (event.key === 'Escape') finish(null);
      }}
      onClick={(event) => event.stopPropagation()}
    />
  );
}
