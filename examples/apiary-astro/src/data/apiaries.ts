export interface Apiary {
  readonly id: string;
  readonly name: string;
  readonly hives: number;
  readonly keeper: string;
  readonly note?: string;
}

export const apiaries: readonly Apiary[] = [
  { id: 'north', name: 'North meadow', hives: 12, keeper: 'Ada', note: 'Two queens are new this year.' },
  { id: 'orchard', name: 'Orchard', hives: 7, keeper: 'Bo' },
  { id: 'quarry', name: 'Old quarry', hives: 4, keeper: 'Cleo', note: 'The path is closed after rain.' },
];

export async function loadHarvest(): Promise<{ apiary: string; kilos: number }[]> {
  return [
    { apiary: 'north', kilos: 214 },
    { apiary: 'orchard', kilos: 96 },
    { apiary: 'quarry', kilos: 31 },
  ];
}
