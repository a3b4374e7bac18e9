/** What a language sees of the project that it works in. */
import type { FileSet } from '../files/files.js';
import type { Resolver } from '../files/resolve.js';
import type { ModuleModel } from '../markup/model.js';
import type { Problem } from '../problems/problems.js';
import type { Ports, SourceFile } from './ports.js';

export interface ProjectView {
  readonly files: FileSet;
  readonly ports: Ports;
  readonly resolver: Resolver;
  /** Files in a language that is read, sorted by path. */
  sources(): string[];
  source(path: string): SourceFile | Problem;
  model(path: string): ModuleModel | Problem;
}
