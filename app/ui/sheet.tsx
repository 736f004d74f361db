import { type ReactNode, useEffect, useRef } from "react";

/** A dialog over the page; Escape, the backdrop and `onClose` end it, and the focus goes back where it was. */
export function SheetDialog({
  label,
  onClose,
  isWide = false,
  children,
}: {
  label: string;
  onClose: () => void;
  isWide?: boolean;
  children: ReactNode;
}) {
  const dialog = useRef<HTMLDialogElement>(null);
  useEffect(() => {
    const before = document.activeElement;
    dialog.current?.showModal();
    return () => {
      if (before instanceof HTMLElement) before.focus();
    };
  }, []);
  return (
    <dialog
      ref={dialog}
      className={`sheet ${isWide ? "sheet-wide" : ""}`}
      aria-label={label}
      onClose={onClose}
      onClick={(event) => event.target === dialog.current && onClose()}
    >
      {children}
    </dialog>
  );
}
