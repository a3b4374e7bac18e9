/** What needs Node: disk, parsers, types, journal. */
export { DiskFiles } from './disk.js';
export { oxcParser } from './parser.js';
