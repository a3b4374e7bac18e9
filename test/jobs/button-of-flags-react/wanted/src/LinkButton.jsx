export function LinkButton({ label, href }) {
  return (
    <a className="button" href={href}>
      {label}
    </a>
  );
}
