/** Logic of a component that is worth a hook of its own: state with the effects and functions that fill it. */
import type { Language } from '../../language/language.js';
import { importKey } from '../../files/paths.js';
import type { SourceFile } from '../../language/ports.js';
import type { ComponentModel } from '../../markup/model.js';
import { isProblem } from '../../problems/problems.js';
import type { Project } from '../../project/project.js';
import type { Seam } from '../../language/cutting.js';
import type { LogicGroup } from '../../language/hooking.js';
import type { Span } from '../../text/edits.js';
import { Lines } from '../../text/lines.js';
import { freeName } from '../naming.js';
import type { Worth } from '../repeats/worth.js';
import { tokensIn, type Tokens } from './tokens.js';
import { SCREEN, worthOfRegion } from './worth.js';

export interface HookProposal {
  readonly name: string;
  readonly path: string;
  readonly component: string;
  /** In text order; they need not stand beside one another. */
  readonly statements: readonly Span[];
  readonly target: string;
  readonly seam: Seam;
  /** Names that its statements declare. */
  readonly declared: readonly string[];
  /** Those that the component goes on using. */
  readonly results: readonly string[];
  readonly worth: Worth;
  readonly why: readonly string[];
  /** Lines that the component is shorter by. */
  readonly relief: number;
}

export interface Logic {
  readonly project: Project;
  readonly file: SourceFile & { readonly language: Language };
  readonly component: ComponentModel;
  readonly tokens: Tokens;
  /** Names that are in use; those of the proposals are added. */
  readonly taken: Set<string>;
  /** Paths, in small letters, that are in use. */
  readonly occupied: Set<string>;
  /** How many names there are to know in the component. */
  readonly names: number;
}

/** Lines from which functions alone are worth it. */
const LEAST_JOB = 35;

/** Logic that one can read past may cost a little. */
const LEAST_HOOK = -15;

/** What takes fewer lines out of the component is not worth a file. */
const LEAST_RELIEF = 8;

export function hooksOf(logic: Logic): readonly HookProposal[] {
  const { project, file, component } = logic;
  const { hooks } = file.language;
  const lines = new Lines(file.text);
  const height = (span: Span) => lines.range(span)[1] - lines.range(span)[0] + 1;
  // All of a short component is in sight.
  if (!hooks || height(component) <= SCREEN) return [];
  const groups = hooks.groups(file, project.ports, component);
  if (isProblem(groups)) return [];
  const sum = (list: readonly Span[], of: (span: Span) => number) => list.reduce((n, span) => n + of(span), 0);
  return groups.flatMap((group): HookProposal[] => {
    const { statements, inputs, results, keeps } = group;
    const tokens = sum(statements, (span) => tokensIn(logic.tokens, span));
    const size = sum(statements, height);
    const relief = size - 2;
    // A handler by itself is a function, whatever it is wrapped in; a long one is a job of its own.
    if (!keeps && size < LEAST_JOB) return [];
    const worth = worthOfRegion({
      tokens,
      rest: tokensIn(logic.tokens, component) - tokens,
      namesThere: logic.names,
      width: inputs.length + results.length,
      ideas: inputs.length + results.length,
      moved: group.declared.length - results.length,
      lines: size,
      hostLines: height(component),
      titled: true,
      row: false,
      headed: false,
    });
    if (worth.total < LEAST_HOOK || relief < LEAST_RELIEF) return [];
    const name = nameOf(logic, group);
    const target = moduleFor(logic, name);
    const seam = { props: inputs.map((input) => ({ name: input })), events: [], slots: [] };
    const own = group.declared.filter((n) => !results.includes(n));
    const why = [
      `${size} lines that know ${inputs.length + group.declared.length} of ${logic.names} names`,
      ...(own.length > 0 ? [`${own.join(', ')} ${own.length > 1 ? 'go' : 'goes'} along`] : []),
    ];
    const where = { path: file.path, component: component.name };
    return [{ name, ...where, statements, target, seam, declared: group.declared, results, worth, why, relief }];
  });
}

function camelOf(name: string): string {
  return name[0]!.toLowerCase() + name.slice(1);
}

/** Where a hook of that name goes. */
function moduleFor({ project, file }: Logic, name: string): string {
  const { language, path } = file;
  return language.fileFor(project, path, name, language.logic?.extension(file, project.ports));
}

function nameOf(logic: Logic, { subject }: LogicGroup): string {
  const { taken, occupied, file } = logic;
  // What could be anything is told by whose it is.
  const about = /^(?:state|data|info|value|values|store|form|model|loading|isLoading|options|config|current)$/.test(
    subject,
  )
    ? camelOf(logic.component.name) + subject[0]!.toUpperCase() + subject.slice(1)
    : subject;
  const plain = file.language.hooks!.nameFor(about);
  const pathOf = (name: string) => importKey(moduleFor(logic, name));
  const isFree = (name: string) => !taken.has(name) && !occupied.has(pathOf(name));
  const name = freeName([plain, `${plain}State`], isFree);
  taken.add(name);
  occupied.add(pathOf(name));
  return name;
}
