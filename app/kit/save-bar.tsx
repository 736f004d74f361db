import { useEffect, useEffectEvent, useRef, useState } from "react";
import { say } from "#app/ui/say.ts";
import { isTick, type, useKeptForm } from "./kept-form.tsx";
import { keepDraft, partOf, readDraft } from "./tab-draft.ts";

/** What was typed before scripts ran: the page hears of it now, where its rows are its own. */
function hearEarlier(form: HTMLFormElement): void {
  for (const control of form.querySelectorAll<HTMLInputElement | HTMLTextAreaElement>(
    "[data-own-draft] :is(input, textarea):not([type=hidden])",
  ))
    if (isTick(control)) {
      if (control.checked === control.defaultChecked) continue;
      control.checked = control.defaultChecked;
      control.click();
    } else if (control.value !== control.defaultValue) {
      const typed = control.value;
      control.value = control.defaultValue;
      type(control, typed);
    }
}

/**
 * The state of the content that a form was begun with, so that a save on top of another person's is noticed. It stays what it was while
 * something is changed, also over a reload.
 */
export function Seen({ value, typed }: { value: string; typed: string | undefined }) {
  const { name, isTouched, saves } = useKeptForm();
  const [{ held, heldFor }, setHeld] = useState({ held: value, heldFor: saves });
  if ((!isTouched && held !== value) || heldFor !== saves) setHeld({ held: value, heldFor: saves });
  const part = name === null ? null : partOf(name, "seen");
  const restore = useEffectEvent((from: string) => {
    const left = readDraft(from);
    if (typeof left === "string") setHeld({ held: left, heldFor: saves });
    else keepDraft(from, held);
  });
  useEffect(() => {
    if (isTouched && part !== null) restore(part);
  }, [isTouched, part, saves]);
  return <input type="hidden" name="seen" value={typed ?? held} />;
}

/** The one button by which a page of several lists is saved, and whether it is. It stays in view. */
export function SaveBar({ busy, children = "Save" }: { busy: boolean; children?: React.ReactNode }) {
  const { saves, isTouched } = useKeptForm();
  const button = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (button.current?.form) hearEarlier(button.current.form);
  }, []);
  useEffect(() => {
    if (saves > 0) say("Saved.");
  }, [saves]);
  return (
    <div className="save-bar">
      <button ref={button} className="btn btn-primary h-11 px-6" disabled={busy}>
        {busy ? "Saving …" : children}
      </button>
      <p className="text-fine font-bold">
        {isTouched ? "Changed, not saved yet." : saves > 0 ? "Saved." : ""}
      </p>
    </div>
  );
}
