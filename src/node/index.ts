/** What needs Node: disk, parsers, types, journal. */
export { DiskFiles } from './disk.js';
export { oxcParser } from './parser.js';
export { vueTemplates } from './templates.js';
export { nodePorts } from './ports.js';
export { newErrors, ProjectTypes, type TypeError } from './types.js';
export { Journal, type JournalContents, type JournalEntry, type Recovered } from './journal/journal.js';
export { realOperations, type DiskOperations } from './journal/writing.js';
export { DiskCache } from './cache.js';
export { readConfig, type Config } from './config.js';
export { readBefore, type Before } from './check/before.js';
export { check, type CheckReport, type CheckRequest } from './check/check.js';
export type { Answer, Difference, Level, LevelReport } from './check/report.js';
