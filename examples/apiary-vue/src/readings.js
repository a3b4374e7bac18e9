/** What the scale under each hive showed last. */
export const readings = [
  { id: 'h1', name: 'Linden 1', kilos: 31.3 },
  { id: 'h2', name: 'Linden 2', kilos: 28.7 },
  { id: 'h3', name: 'Orchard 1', kilos: 34.1 },
];
