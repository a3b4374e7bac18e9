/** Classes of React as functions. */
import type { ToFunction } from '../../../language/to-function.js';
import { isProblem } from '../../../problems/problems.js';
import { parseFile } from '../source.js';
import { classesOf } from './class-component.js';
import { compare } from './compare.js';
import { writeFunction } from './write.js';

export const functions: ToFunction = {
  list(file, ports) {
    const script = parseFile(file, ports);
    return isProblem(script) ? [] : classesOf(script).map((node) => node.id!.name);
  },
  write: writeFunction,
  compare,
};
