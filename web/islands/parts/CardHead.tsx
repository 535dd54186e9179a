import { X } from 'lucide-react';

export interface CardHeadProps {
  title: string;
  /** What the button closes, for who cannot see it. */
  closeLabel: string;
  onClose(): void;
}

/** Title of a card that opens within a panel, and the button that closes it. */
export function CardHead({ title, closeLabel, onClose }: CardHeadProps) {
  return (
    <div className="flex items-center justify-between">
      <h2 className="font-semibold">{title}</h2>
      <button type="button" className="text-soft" aria-label={closeLabel} onClick={onClose}>
        <X size={14} />
      </button>
    </div>
  );
}
