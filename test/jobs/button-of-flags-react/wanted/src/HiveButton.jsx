export function HiveButton({ className = 'button', ...rest }) {
  return <button className={className} {...rest} />;
}
