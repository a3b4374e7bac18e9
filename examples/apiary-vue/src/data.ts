export interface Hive {
  id: string;
  name: string;
  apiary: 'meadow' | 'orchard';
  kilos: number;
  queen: { year: number; marked: boolean };
  notes: string[];
}

export const HIVES: Hive[] = [
  { id: 'h1', name: 'Heather', apiary: 'meadow', kilos: 18, queen: { year: 2025, marked: true }, notes: ['calm', 'two supers'] },
  { id: 'h2', name: 'Clover', apiary: 'meadow', kilos: 9, queen: { year: 2024, marked: false }, notes: [] },
  { id: 'h3', name: 'Bramble', apiary: 'orchard', kilos: 22, queen: { year: 2026, marked: true }, notes: ['swarmed in May'] },
  { id: 'h4', name: 'Lime', apiary: 'orchard', kilos: 4, queen: { year: 2023, marked: false }, notes: ['feed in autumn'] },
];

export const KEEPERS = [
  { id: 'k1', name: 'Mirja', phone: '0100 22', hives: ['h1', 'h2'] },
  { id: 'k2', name: 'Oskar', phone: '0100 37', hives: ['h3'] },
  { id: 'k3', name: 'Ansgar', phone: '', hives: [] as string[] },
];
