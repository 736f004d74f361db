/** Where a PIN is typed, by touch or keys, with why it is not taken below it. */
export function PinField({
  label,
  pin,
  why,
  onPin,
}: {
  label: string;
  pin: string;
  why: string;
  onPin: (pin: string) => void;
}) {
  return (
    <>
      <label className="grid gap-1 font-bold">
        {label}
        <input
          className="input h-14 w-full text-center text-2xl tracking-[0.4em]"
          type="password"
          inputMode="numeric"
          autoComplete="off"
          maxLength={8}
          autoFocus
          value={pin}
          aria-describedby="pin-why"
          aria-invalid={why !== "" || undefined}
          onChange={({ target }) => onPin(target.value.replace(/\D/g, ""))}
        />
      </label>
      <p id="pin-why" role="alert" className="font-bold text-error empty:hidden">
        {why}
      </p>
    </>
  );
}
