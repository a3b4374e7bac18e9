export function YardHeader({ keeper, children }) {
  return (
    <header className="yard">
      <h1>
        <a href="/">Co-operative</a>
      </h1>
      <p>{keeper}</p>
      {children}
      <hr />
    </header>
  );
}
