export function HiveButton({ label, busy, href, dangerous, onPress }) {
  if (href) {
    return (
      <a className="button" href={href}>
        {label}
      </a>
    );
  }
  return (
    <button className={dangerous ? 'button danger' : 'button'} disabled={busy} onClick={onPress}>
      {busy ? 'Please wait' : label}
    </button>
  );
}
