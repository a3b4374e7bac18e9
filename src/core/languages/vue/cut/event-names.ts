/** What an event of a new component is called: after what the host does when it comes, else after what was done. */
import type { Attribute, ElementNode } from '../../../markup/model.js';
import { deedOf } from '../../events.js';
import type { Node } from '../../../script/parser.js';
import { bare, isFunction } from '../../../script/walk.js';

/**
 * `remove` for `remove(hive)`, `toggleOpen` for `open = !open`, `changeQuery` for `query = …`. Undefined code: several
 * places do several things, and the event is called after what was done. `isOneOf`: the event says which of several values it is.
 */
export function eventName(
  code: Node | undefined,
  attribute: Attribute,
  element: ElementNode,
  taken: ReadonlySet<string>,
  isOneOf = false,
): string {
  const deed = code && !isOneOf ? constantDeed(code, element) : undefined;
  const wanted = deed ?? (code && actionIn(code)) ?? fallback(attribute, element);
  if (!taken.has(wanted)) return wanted;
  const noun = element.component ? element.name : (attribute.name.replace(/^on/, '').split('.')[0] ?? '');
  const longer = `${wanted}${noun.replace(/[^\w]/g, '')}`;
  if (!taken.has(longer)) return longer;
  for (let i = 2; ; i++) if (!taken.has(`${wanted}${i}`)) return `${wanted}${i}`;
}

/** A handler that does nothing but set something to a value that is written out. */
function constantDeed(node: Node, element: ElementNode): string | undefined {
  const code = bare(node);
  if (isFunction(code)) {
    const only =
      code.body.type === 'BlockStatement' ? (code.body.body.length === 1 ? code.body.body[0] : undefined) : code.body;
    return only && constantDeed(only.type === 'ExpressionStatement' ? only.expression : only, element);
  }
  if (code.type !== 'AssignmentExpression' || code.operator !== '=' || code.right.type !== 'Literal') return undefined;
  const subject = subjectOf(code.left);
  const [only, ...more] = element.children.filter((child) => child.kind !== 'comment');
  const label = only?.kind === 'text' && more.length === 0 ? only.text : undefined;
  return subject && deedOf(subject[0]!.toLowerCase() + subject.slice(1), String(code.right.value), label);
}

function actionIn(node: Node): string | undefined {
  const code = bare(node);
  if (code.type === 'Identifier') return verbOf(code.name);
  if (code.type === 'MemberExpression')
    return code.property.type === 'Identifier' ? verbOf(code.property.name) : undefined;
  if (isFunction(code)) {
    const body = code.body.type === 'BlockStatement' ? code.body.body : [code.body];
    for (const statement of body) {
      const name = actionIn(statement.type === 'ExpressionStatement' ? statement.expression : statement);
      if (name !== undefined) return name;
    }
    return undefined;
  }
  switch (code.type) {
    case 'CallExpression': {
      const first = code.arguments[0];
      const callee = bare(code.callee);
      if (callee.type === 'Identifier' && /^\$?emit$/.test(callee.name) && first?.type === 'Literal')
        return verbOf(String(first.value));
      return actionIn(callee);
    }
    case 'AwaitExpression':
    case 'ChainExpression':
      return actionIn(code.type === 'ChainExpression' ? code.expression : code.argument);
    case 'AssignmentExpression': {
      const subject = subjectOf(code.left);
      const value = bare(code.right);
      const toggles = value.type === 'UnaryExpression' && value.operator === '!';
      return subject && `${toggles ? 'toggle' : 'change'}${subject}`;
    }
    case 'UpdateExpression': {
      const subject = subjectOf(code.argument);
      return subject && `${code.operator === '++' ? 'increase' : 'decrease'}${subject}`;
    }
    case 'LogicalExpression':
      return actionIn(code.right);
    case 'ConditionalExpression':
      return actionIn(code.consequent);
    default:
      return undefined;
  }
}

function subjectOf(node: Node): string | undefined {
  const target = bare(node);
  const name =
    target.type === 'Identifier'
      ? target.name.replace(/^(?:this|props)\./, '')
      : target.type === 'MemberExpression' && target.property.type === 'Identifier' && !target.computed
        ? target.property.name
        : undefined;
  return name && name[0]!.toUpperCase() + name.slice(1);
}

/** `remove` for `handleRemove`, `onRemove`, `emit:remove`. */
export function verbOf(name: string): string {
  const plain = name
    .replace(/^(?:this\.|props\.|emit:)/, '')
    .replace(/[:-](\w)/g, (_, letter: string) => letter.toUpperCase());
  const short = /^_*(?:handle|on|do|fire|emit)[A-Z]/.test(plain)
    ? plain.replace(/^_*(?:handle|on|do|fire|emit)/, '')
    : plain.replace(/^[_$]+/, '');
  return short ? short[0]!.toLowerCase() + short.slice(1) : 'action';
}

function fallback(attribute: Attribute, element: ElementNode): string {
  const event = attribute.name.replace(/^on/, '').split('.')[0]!.replace(/[^\w]/g, '');
  const noun = element.component ? element.name : '';
  return `${event[0]!.toLowerCase()}${event.slice(1)}${noun}`;
}
