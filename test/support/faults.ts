/** Faults that people make while they split a component, each as an edit of the React demo, with the level that sees it. */
import type { Level } from '../../src/node/check/report.js';

export interface Fault {
  readonly name: string;
  /** The level that has to catch it. */
  readonly level: Level;
  /** Pieces of text and what stands there instead. */
  readonly edits: readonly (readonly [find: string, instead: string])[];
  /** Another file than `src/App.tsx`. */
  readonly file?: string;
  /** What the difference says, in part. */
  readonly says: RegExp;
  /** Found only after minutes. */
  readonly late?: true;
}

const HIVE_FIELD = `function HiveField({ onHive }: { onHive: (hive: string) => void }) {
  const [hive, setHive] = useState('');
  return (
    <input
      id="draft-hive"
      value={hive}
      onChange={(event) => {
        setHive(event.target.value);
        onHive(event.target.value);
      }}
    />
  );
}

`;

const YEAR_CHOICE = `function YearChoice({ first, onYear }: { first: number; onYear: (year: number) => void }) {
  const [year, setYear] = useState(first);
  return (
    <select
      id="harvest-year"
      value={year}
      onChange={(event) => {
        setYear(Number(event.target.value));
        onYear(Number(event.target.value));
      }}
    >
      <option value={2024}>2024</option>
      <option value={2025}>2025</option>
    </select>
  );
}

`;

const SELECT = `<select id="harvest-year" value={year} onChange={(event) => setYear(Number(event.target.value))}>
              <option value={2024}>2024</option>
              <option value={2025}>2025</option>
            </select>`;
const QUERY = `<input
              id="inspection-query"
              type="search"
              value={query}
              onChange={(event) => setQuery(event.target.value)}
              placeholder="Name of a hive"
            />`;
const TITLE = `  useEffect(() => {
    document.title = keeper ? \`Lindenau – \${keeper.name}\` : 'Lindenau';
  }, [keeper]);

`;

export const FAULTS: readonly Fault[] = [
  {
    name: 'a lost class',
    level: 'browser',
    edits: [['<li key={inspection.id} className="inspection">', '<li key={inspection.id}>']],
    says: /lost (?:the|its) class/,
  },
  {
    name: 'a lost style rule',
    level: 'browser',
    file: 'src/App.css',
    edits: [['.error', '.no-error']],
    late: true,
    says: /looks different: .*color was/,
  },
  {
    name: 'an inner component defined inside render',
    level: 'browser',
    edits: [
      [
        '  return (\n    <div className="page">',
        `  const Query = () => (\n    ${QUERY}\n  );\n\n  return (\n    <div className="page">`,
      ],
      [`            ${QUERY}{' '}\n`, `            <Query />{' '}\n`],
    ],
    says: /taken away and made anew|focus was on/,
  },
  {
    name: 'a missing key',
    level: 'browser',
    edits: [['<li key={inspection.id} className="inspection">', '<li className="inspection">']],
    says: /another element than it was|unique "key"/,
  },
  {
    name: 'a handler bound to a stale value',
    level: 'browser',
    edits: [
      ['import { useEffect, useMemo,', 'import { useCallback, useEffect, useMemo,'],
      [
        '  return (\n    <div className="page">',
        '  const submit = useCallback(handleSubmit, []);\n\n  return (\n    <div className="page">',
      ],
      ['onSubmit={handleSubmit}', 'onSubmit={submit}'],
    ],
    late: true,
    says: /./,
  },
  {
    name: 'state that resets when a section is hidden and shown',
    level: 'browser',
    edits: [
      ['export default function App', `${HIVE_FIELD}export default function App`],
      [
        '<input id="draft-hive" value={draftHive} onChange={(event) => setDraftHive(event.target.value)} />',
        '<HiveField onHive={setDraftHive} />',
      ],
    ],
    late: true,
    says: /value of the field "#draft-hive" was/,
  },
  {
    name: 'an event that no longer reaches the other component when the value is set from code',
    level: 'browser',
    edits: [
      ['export default function App', `${YEAR_CHOICE}export default function App`],
      [SELECT, '<YearChoice first={year} onYear={setYear} />'],
    ],
    late: true,
    says: /held "2025", and holds "2024"|said|choice/,
  },
  {
    name: 'a duplicate id',
    level: 'browser',
    edits: [['      <footer>', '      <footer id="harvests">']],
    says: /id="harvests"/,
  },
  {
    name: 'a label that lost its input',
    level: 'browser',
    edits: [['htmlFor="draft-notes"', 'htmlFor="draft-note"']],
    says: /the for of the label "Notes"/,
  },
  {
    name: 'a lost loading guard',
    level: 'render',
    edits: [
      [
        '{loading ? (\n            <p aria-busy="true">Loading inspections …</p>\n          ) : error ? (',
        '{error ? (',
      ],
    ],
    says: /Loading inspections/,
  },
  {
    name: 'an effect that runs twice',
    level: 'browser',
    edits: [['      clearTimeout(timer);\n', '']],
    says: /network was asked for "GET http:\/\/app\/data\/inspections\.json" besides/,
  },
  {
    name: 'a changed order of effects',
    level: 'expand',
    edits: [
      [TITLE, ''],
      ['  useEffect(() => {\n    let cancelled', `${TITLE}  useEffect(() => {\n    let cancelled`],
    ],
    says: /./,
  },
  { name: 'an off-by-one in a loop', level: 'browser', edits: [['{index + 1}. ', '{index}. ']], says: /said "1\./ },
  {
    name: 'a text that lost its white space',
    level: 'render',
    edits: [["</span>{' '}\n            {keeper.phone", '</span>\n            {keeper.phone']],
    says: /./,
  },
  {
    name: 'a changed tab order',
    level: 'browser',
    edits: [
      [
        `          <a href="#apiaries">Apiaries</a>
          <a href="#inspections">Inspections</a>`,
        `          <a href="#apiaries">Apiaries</a>
          <a href="#inspections" tabIndex={1}>Inspections</a>`,
      ],
    ],
    says: /tabindex/,
  },
  {
    name: 'a new console warning',
    level: 'browser',
    edits: [['  const canEdit =', "  useEffect(() => console.warn('no queen was seen'), []);\n  const canEdit ="]],
    says: /the console said "warning: no queen was seen/,
  },
];
