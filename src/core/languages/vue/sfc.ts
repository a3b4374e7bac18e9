/** A Vue file taken apart: its blocks, its scripts as syntax, the code in its template. Nothing is changed here. */
import { problem, isProblem, type Problem } from '../../problems/problems.js';
import { isScriptError, type ParsedScript, type ScriptSyntax } from '../../script/parser.js';
import type { Span } from '../../text/edits.js';
import type { Ports, SourceFile } from '../../language/ports.js';
import { parsePieces, type Pieces } from './expressions.js';
import { piecesOf } from './pieces.js';
import {
  blockOf,
  blocksOf,
  KIND,
  type AttributeNode,
  type ElementNode,
  type TemplateChildNode,
  templateParser,
} from './template.js';

export interface Block extends Span {
  readonly node: ElementNode;
  /** What stands between the tags. */
  readonly inner: Span;
  readonly lang: string | undefined;
  readonly src: string | undefined;
}

export interface ScriptBlock extends Block {
  readonly script: ParsedScript;
}

export interface Sfc {
  readonly path: string;
  readonly text: string;
  readonly template: Block | undefined;
  /** What the template shows; empty where it is in a language that is not read. */
  readonly shown: readonly TemplateChildNode[];
  readonly script: ScriptBlock | undefined;
  readonly setup: ScriptBlock | undefined;
  readonly styles: readonly Block[];
  readonly pieces: Pieces;
  readonly syntax: ScriptSyntax;
}

export function parseSfc(file: SourceFile, ports: Ports): Sfc | Problem {
  const { path, text } = file;
  const parser = templateParser(ports);
  if (!parser) return problem('file-language', { path }, '.vue');
  const { root, errors } = parser.parse(text, 'sfc');
  const first = errors[0];
  if (first) {
    const start = Math.min(first.offset, text.length);
    return problem('file-syntax', { path, span: { start, end: Math.min(start + 1, text.length) } }, first.message);
  }
  const scripts = blocksOf(root, 'script').map(blockFrom);
  const lang = scripts.map((s) => s.lang).find((l) => l !== undefined);
  const syntax = syntaxOf(lang);
  const read: ScriptBlock[] = [];
  for (const block of scripts) {
    const script = parseBlock(file, ports, block, syntax);
    if (isProblem(script)) return script;
    read.push({ ...block, script });
  }
  const node = blockOf(root, 'template');
  const template = node && blockFrom(node);
  const isMarkup = template?.lang === undefined || template.lang === 'html';
  const shown = template && isMarkup && template.src === undefined ? template.node.children : [];
  // An expression may hold casts, but `<T>x` and JSX exclude each other; templates hold no JSX.
  const pieces = parsePieces(piecesOf(shown, text), ports.script, syntax.startsWith('ts') ? 'ts' : 'js');
  if ('message' in pieces) return problem('file-syntax', { path, span: pieces.span }, pieces.message);
  return {
    path,
    text,
    template,
    shown,
    script: read.find((s) => !hasAttribute(s.node, 'setup')),
    setup: read.find((s) => hasAttribute(s.node, 'setup')),
    styles: blocksOf(root, 'style').map(blockFrom),
    pieces,
    syntax,
  };
}

function blockFrom(node: ElementNode): Block {
  const { innerLoc } = node;
  const inner = innerLoc ?? node.loc;
  return {
    node,
    start: node.loc.start.offset,
    end: node.loc.end.offset,
    inner: { start: inner.start.offset, end: inner.end.offset },
    lang: attributeText(node, 'lang'),
    src: attributeText(node, 'src'),
  };
}

/** The script with everything around it blanked out, so that its offsets are those of the file. */
function parseBlock(
  file: SourceFile,
  ports: Ports,
  { inner, src }: Block,
  syntax: ScriptSyntax,
): ParsedScript | Problem {
  const text = src === undefined ? file.text.slice(inner.start, inner.end) : '';
  const result = ports.script.parse(' '.repeat(inner.start) + text, syntax);
  if (!isScriptError(result)) return result;
  const start = Math.min(result.offset, inner.end);
  return problem(
    'file-syntax',
    { path: file.path, span: { start, end: Math.min(start + 1, file.text.length) } },
    result.message,
  );
}

function syntaxOf(lang: string | undefined): ScriptSyntax {
  return lang === 'ts' || lang === 'tsx' || lang === 'jsx' ? lang : 'js';
}

export function attributeOf(node: ElementNode, name: string): AttributeNode | undefined {
  return node.props.find((p): p is AttributeNode => p.type === (KIND.attribute as number) && p.name === name);
}

export function attributeText(node: ElementNode, name: string): string | undefined {
  return attributeOf(node, name)?.value?.content;
}

export function hasAttribute(node: ElementNode, name: string): boolean {
  return attributeOf(node, name) !== undefined;
}
