import { type ReactNode, useRef } from 'react';

interface TakeButtonProps {
  onTake: (files: File[]) => void;
  className?: string;
  label: string;
  children: ReactNode;
}

/** Opens the camera of a phone, or the files of a laptop; several at once are a burst. */
export function TakeButton({ onTake, className = 'quiet', label, children }: TakeButtonProps) {
  const picker = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={picker}
        type="file"
        accept="image/jpeg,image/png,image/webp"
        multiple
        className="hidden"
        aria-label={label}
        onChange={(event) => {
          if (event.target.files?.length) {
            // The list empties with the field below; whoever takes it may look later.
            onTake(Array.from(event.target.files));
          }
          event.target.value = '';
        }}
      />
      <button type="button" className={className} onClick={() => picker.current?.click()}>
        {children}
      </button>
    </>
  );
}
