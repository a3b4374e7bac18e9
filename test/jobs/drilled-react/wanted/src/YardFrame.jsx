export function YardFrame({ place, children }) {
  return (
    <section>
      <h2>{place}</h2>
      {children}
    </section>
  );
}
