import { useEffect, useMemo, useState, type FormEvent } from 'react';
import './App.css';

type Role = 'keeper' | 'inspector' | 'visitor';

interface Keeper {
  name: string;
  role: Role;
  phone?: string;
}

interface Inspection {
  id: string;
  hive: string;
  date: string;
  keeper: string;
  queenSeen: boolean;
  notes: string;
}

interface Harvest {
  id: string;
  apiary: string;
  kind: 'heather' | 'clover' | 'linden';
  kilos: number;
  year: number;
}

const PRICE_PER_KILO = 14.5;

const HARVESTS: Harvest[] = [
  { id: 'h1', apiary: 'North meadow', kind: 'clover', kilos: 38, year: 2025 },
  { id: 'h2', apiary: 'Old quarry', kind: 'heather', kilos: 21, year: 2025 },
  { id: 'h3', apiary: 'Mill bank', kind: 'linden', kilos: 44, year: 2025 },
  { id: 'h4', apiary: 'Orchard', kind: 'clover', kilos: 29, year: 2025 },
  { id: 'h5', apiary: 'Old quarry', kind: 'heather', kilos: 17, year: 2024 },
];

const styles = {
  card: { boxShadow: '0 1px 2px rgba(60, 40, 0, 0.1)' },
  hint: { color: '#86754f', fontSize: 13 },
  dialog: { border: '1px solid #c9a544', borderRadius: 8, padding: 24 },
  total: { fontWeight: 700 },
};

function formatKilos(kilos: number) {
  return `${kilos.toFixed(1)} kg`;
}

function formatDate(iso: string) {
  const [year, month, day] = iso.split('-');
  return `${day}.${month}.${year}`;
}

export default function App() {
  const [keeper, setKeeper] = useState<Keeper | null>({ name: 'Mirja', role: 'keeper', phone: '0170 000' });
  const [inspections, setInspections] = useState<Inspection[]>([]);
  const [loading, setLoading] = useState(true);
  const [error, setError] = useState<string | null>(null);
  const [query, setQuery] = useState('');
  const [onlyUnseen, setOnlyUnseen] = useState(false);
  const [harvests, setHarvests] = useState(HARVESTS);
  const [year, setYear] = useState(2025);
  const [tab, setTab] = useState<'heather' | 'clover'>('heather');
  const [removing, setRemoving] = useState<Inspection | null>(null);
  const [confirmReset, setConfirmReset] = useState(false);
  const [draftHive, setDraftHive] = useState('');
  const [draftNotes, setDraftNotes] = useState('');
  const [draftQueen, setDraftQueen] = useState(true);
  const [formError, setFormError] = useState('');
  const [mites, setMites] = useState(0);
  const [miteDays, setMiteDays] = useState(3);

  useEffect(() => {
    let cancelled = false;
    const timer = setTimeout(() => {
      fetch('/data/inspections.json')
        .then((response) => {
          if (!response.ok) throw new Error(`the server answered ${response.status}`);
          return response.json();
        })
        .then((loaded: Inspection[]) => {
          if (cancelled) return;
          setInspections(loaded);
          setLoading(false);
        })
        .catch((reason: Error) => {
          if (cancelled) return;
          setError(reason.message);
          setLoading(false);
        });
    }, 600);
    return () => {
      cancelled = true;
      clearTimeout(timer);
    };
  }, []);

  useEffect(() => {
    document.title = keeper ? `Lindenau – ${keeper.name}` : 'Lindenau';
  }, [keeper]);

  const shownInspections = useMemo(
    () =>
      inspections.filter(
        (inspection) =>
          inspection.hive.toLowerCase().includes(query.toLowerCase()) && (!onlyUnseen || !inspection.queenSeen),
      ),
    [inspections, query, onlyUnseen],
  );

  const harvestsOfYear = harvests.filter((harvest) => harvest.year === year);
  const totalKilos = harvestsOfYear.reduce((sum, harvest) => sum + harvest.kilos, 0);
  const totalValue = totalKilos * PRICE_PER_KILO;
  const mitesPerDay = mites / miteDays;
  const canEdit = keeper !== null && keeper.role !== 'visitor';

  const removeInspection = (id: string) => {
    setInspections(inspections.filter((inspection) => inspection.id !== id));
    setRemoving(null);
  };

  const handleReset = () => {
    setHarvests(HARVESTS);
    setYear(2025);
    setConfirmReset(false);
  };

  const handleSubmit = (event: FormEvent) => {
    event.preventDefault();
    if (!draftHive.trim()) {
      setFormError('Which hive was it?');
      return;
    }
    setInspections([
      ...inspections,
      {
        id: `n${inspections.length + 1}`,
        hive: draftHive,
        date: '2026-05-12',
        keeper: keeper?.name ?? 'somebody',
        queenSeen: draftQueen,
        notes: draftNotes,
      },
    ]);
    setDraftHive('');
    setDraftNotes('');
    setDraftQueen(true);
    setFormError('');
  };

  return (
    <div className="page">
      <header className="page-header">
        <strong>Lindenau bee-keeping co-operative</strong>
        <nav aria-label="Main">
          <a href="#apiaries">Apiaries</a>
          <a href="#inspections">Inspections</a>
          <a href="#harvests">Harvests</a>
          {keeper?.role === 'inspector' && <a href="#reports">Reports</a>}
        </nav>
        {keeper ? (
          <div className="who">
            <span>
              {keeper.name} ({keeper.role})
            </span>{' '}
            {keeper.phone && <small style={styles.hint}>{keeper.phone}</small>}{' '}
            <button type="button" onClick={() => setKeeper(null)}>
              Sign out
            </button>
          </div>
        ) : (
          <div className="who">
            <button type="button" onClick={() => setKeeper({ name: 'Mirja', role: 'keeper' })}>
              Sign in as keeper
            </button>{' '}
            <button type="button" onClick={() => setKeeper({ name: 'Tove', role: 'inspector' })}>
              Sign in as inspector
            </button>
          </div>
        )}
      </header>

      {/* Apiaries */}
      <section id="apiaries" className="apiaries" aria-label="Apiaries">
        <article className="apiary-card" style={styles.card}>
          <h3>North meadow</h3>
          <p className="place">Behind the ford, 240 m</p>
          <dl>
            <dt>Hives</dt>
            <dd>12</dd>
            <dt>Last visit</dt>
            <dd>{formatDate('2026-05-04')}</dd>
          </dl>
          <button type="button" onClick={() => setQuery('North')}>
            Show inspections
          </button>
        </article>
        <article className="apiary-card" style={styles.card}>
          <h3>Old quarry</h3>
          <p className="place">South slope, 410 m</p>
          <dl>
            <dt>Hives</dt>
            <dd>7</dd>
            <dt>Last visit</dt>
            <dd>{formatDate('2026-05-06')}</dd>
          </dl>
          <button type="button" onClick={() => setQuery('Heather')}>
            Show inspections
          </button>
        </article>
        <article className="apiary-card" style={styles.card}>
          <h3>Mill bank</h3>
          <p className="place">By the weir, 190 m</p>
          <dl>
            <dt>Hives</dt>
            <dd>9</dd>
            <dt>Last visit</dt>
            <dd>{formatDate('2026-05-09')}</dd>
          </dl>
          <button type="button" onClick={() => setQuery('Linden')}>
            Show inspections
          </button>
        </article>
        <article className="apiary-card" style={styles.card}>
          <h3>Orchard</h3>
          <p className="place">At the co-operative, 205 m</p>
          <dl>
            <dt>Hives</dt>
            <dd>15</dd>
            <dt>Last visit</dt>
            <dd>{formatDate('2026-05-10')}</dd>
          </dl>
          <button type="button" onClick={() => setQuery('Clover')}>
            Show inspections
          </button>
          <p style={styles.hint}>Visitors welcome on Sundays</p>
        </article>
      </section>

      <div className="columns">
        <section id="inspections">
          <h2>Inspections</h2>
          <p>
            <label htmlFor="inspection-query">Hive </label>
            <input
              id="inspection-query"
              type="search"
              value={query}
              onChange={(event) => setQuery(event.target.value)}
              placeholder="Name of a hive"
            />{' '}
            <label>
              <input
                type="checkbox"
                checked={onlyUnseen}
                onChange={(event) => setOnlyUnseen(event.target.checked)}
              />{' '}
              queen not seen
            </label>
          </p>
          {loading ? (
            <p aria-busy="true">Loading inspections …</p>
          ) : error ? (
            <p className="error">The inspections could not be loaded: {error}</p>
          ) : shownInspections.length === 0 ? (
            <p style={styles.hint}>No inspection matches.</p>
          ) : (
            <ul>
              {shownInspections.map((inspection, index) => (
                <li key={inspection.id} className="inspection">
                  <span className="when">
                    {index + 1}. {formatDate(inspection.date)}
                  </span>
                  <strong>{inspection.hive}</strong>
                  <span>
                    {inspection.keeper}: {inspection.notes}
                  </span>
                  {!inspection.queenSeen && <em>queen not seen</em>}
                  {canEdit && (
                    <button type="button" onClick={() => setRemoving(inspection)}>
                      Remove
                    </button>
                  )}
                </li>
              ))}
            </ul>
          )}
          {canEdit && (
            <form onSubmit={handleSubmit} aria-label="New inspection">
              <h3>New inspection</h3>
              <p>
                <label htmlFor="draft-hive">Hive </label>
                <input id="draft-hive" value={draftHive} onChange={(event) => setDraftHive(event.target.value)} />
              </p>
              <p>
                <label htmlFor="draft-notes">Notes </label>
                <textarea
                  id="draft-notes"
                  rows={2}
                  value={draftNotes}
                  onChange={(event) => setDraftNotes(event.target.value)}
                />
              </p>
              <p>
                <label>
                  <input
                    type="checkbox"
                    checked={draftQueen}
                    onChange={(event) => setDraftQueen(event.target.checked)}
                  />{' '}
                  queen seen
                </label>
              </p>
              {formError && <p className="error">{formError}</p>}
              <button type="submit">Add inspection</button>
            </form>
          )}
        </section>

        <section id="harvests">
          <h2>Harvests</h2>
          <p>
            <label htmlFor="harvest-year">Year </label>
            <select id="harvest-year" value={year} onChange={(event) => setYear(Number(event.target.value))}>
              <option value={2024}>2024</option>
              <option value={2025}>2025</option>
            </select>
          </p>
          <table className="harvest-table">
            <caption>Harvests of {year}</caption>
            <thead>
              <tr>
                <th>Apiary</th>
                <th>Honey</th>
                <th>Weight</th>
                {canEdit && <th>Value</th>}
              </tr>
            </thead>
            <tbody>
              {harvestsOfYear.map((harvest) => {
                const value = harvest.kilos * PRICE_PER_KILO;
                return (
                  <tr key={harvest.id}>
                    <td>{harvest.apiary}</td>
                    <td>{harvest.kind}</td>
                    <td>{formatKilos(harvest.kilos)}</td>
                    {canEdit && <td>{value.toFixed(2)} €</td>}
                  </tr>
                );
              })}
            </tbody>
            <tfoot>
              <tr style={styles.total}>
                <td colSpan={2}>Total</td>
                <td>{formatKilos(totalKilos)}</td>
                {canEdit && <td>{totalValue.toFixed(2)} €</td>}
              </tr>
            </tfoot>
          </table>

          <div className="tabs">
            <div role="tablist" aria-label="Kinds of honey">
              <button
                type="button"
                role="tab"
                id="tab-heather"
                aria-controls="panel-heather"
                aria-selected={tab === 'heather'}
                onClick={() => setTab('heather')}
              >
                Heather
              </button>
              <button
                type="button"
                role="tab"
                id="tab-clover"
                aria-controls="panel-clover"
                aria-selected={tab === 'clover'}
                onClick={() => setTab('clover')}
              >
                Clover
              </button>
            </div>
            <div role="tabpanel" id="panel-heather" aria-labelledby="tab-heather" hidden={tab !== 'heather'}>
              <h3>Heather honey</h3>
              <p>Gathered on the moor in August; thick, dark, a little bitter.</p>
              <ul>
                {harvests
                  .filter((harvest) => harvest.kind === 'heather')
                  .map((harvest) => (
                    <li key={harvest.id}>
                      {harvest.apiary} {harvest.year}: {formatKilos(harvest.kilos)}
                    </li>
                  ))}
              </ul>
              <a href="#tab-heather">Back to the tab</a>
            </div>
            <div role="tabpanel" id="panel-clover" aria-labelledby="tab-clover" hidden={tab !== 'clover'}>
              <h3>Clover honey</h3>
              <p>Gathered in the meadows in June; light, mild, sets quickly.</p>
              <ul>
                {harvests
                  .filter((harvest) => harvest.kind === 'clover')
                  .map((harvest) => (
                    <li key={harvest.id}>
                      {harvest.apiary} {harvest.year}: {formatKilos(harvest.kilos)}
                    </li>
                  ))}
              </ul>
              <a href="#tab-clover">Back to the tab</a>
            </div>
          </div>
        </section>
      </div>

      {/* Varroa counts, for inspectors */}
      {keeper?.role === 'inspector' && (
        <section id="reports">
          <h2>Reports</h2>
          <p>
            <label htmlFor="mite-count">Mites on the board </label>
            <input
              id="mite-count"
              type="number"
              min={0}
              value={mites}
              onChange={(event) => setMites(Number(event.target.value))}
            />{' '}
            <label htmlFor="mite-days">over days </label>
            <input
              id="mite-days"
              type="number"
              min={1}
              value={miteDays}
              onChange={(event) => setMiteDays(Math.max(1, Number(event.target.value)))}
            />
          </p>
          <p>
            {mitesPerDay.toFixed(1)} a day: {mitesPerDay > 10 ? <strong>treat now</strong> : 'no need to treat yet'}
          </p>
          <ul>
            {inspections
              .filter((inspection) => !inspection.queenSeen)
              .map((inspection) => (
                <li key={inspection.id}>
                  {inspection.hive}, {formatDate(inspection.date)}: look for the queen again
                </li>
              ))}
          </ul>
        </section>
      )}

      {/* Dialogs */}
      {removing && (
        <dialog open style={styles.dialog} aria-labelledby="remove-title">
          <h2 id="remove-title">Remove the inspection?</h2>
          <p>
            The inspection of {removing.hive} on {formatDate(removing.date)} will be gone.
          </p>
          <button type="button" onClick={() => removeInspection(removing.id)}>
            Remove
          </button>{' '}
          <button type="button" onClick={() => setRemoving(null)}>
            Keep
          </button>
        </dialog>
      )}
      <p>
        <button type="button" disabled={!canEdit} onClick={() => setConfirmReset(true)}>
          Reset harvests
        </button>
      </p>
      {confirmReset && (
        <dialog open style={styles.dialog} aria-labelledby="reset-title">
          <h2 id="reset-title">Reset the harvests?</h2>
          <p>All changes to the harvests of {year} will be gone.</p>
          <button type="button" onClick={handleReset}>
            Reset
          </button>{' '}
          <button type="button" onClick={() => setConfirmReset(false)}>
            Keep
          </button>
        </dialog>
      )}

      <footer>
        <p>
          {inspections.length} inspections, {formatKilos(totalKilos)} in {year}, worth {totalValue.toFixed(2)} €.
        </p>
        {keeper === null && (
          <p>
            Members sign in above; visitors find the <a href="#apiaries">apiaries</a> open on Sundays.
          </p>
        )}
        <p>
          <a href="?page=keepers">Keepers</a>, <a href="?page=prices">prices</a> and{' '}
          <a href="?page=association">the association</a> have pages of their own.
        </p>
        <p>
          <small>Lindenau bee-keeping co-operative, made up for this demo.</small>
        </p>
      </footer>
    </div>
  );
}
