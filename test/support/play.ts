/** Plays a React component in a DOM: what is shown, called and kept outside after each thing that somebody does. */
import { Window, type HTMLInputElement } from 'happy-dom';
import { act, createElement } from 'react';
import { createRoot } from 'react-dom/client';
import type { FileSet } from '../../src/core/index.js';
import { loadModule } from './react.js';

/** What somebody does: presses the nth button there is, or types into the nth field. */
export type Deed =
  | { readonly press: number }
  | { readonly type: number; readonly text: string }
  | { readonly check: number }
  | { readonly wait: number }
  /** What happens outside: an answer comes, a clock strikes. */
  | { readonly happens: () => void };

export interface Seen {
  readonly html: string;
  /** Calls of `log` and of what the component was handed, in their order. */
  readonly calls: readonly string[];
}

declare global {
  var IS_REACT_ACT_ENVIRONMENT: boolean;
  var log: (...args: unknown[]) => void;
}

/** The names of the page that React and the components ask for, for as long as a play takes. */
async function onPage<T>(run: (window: Window) => Promise<T>): Promise<T> {
  const window = new Window({ url: 'http://localhost/' });
  const names = ['window', 'document', 'HTMLElement', 'Node', 'Event', 'navigator'] as const;
  const before = names.map((name) => Object.getOwnPropertyDescriptor(globalThis, name));
  const values: Record<string, unknown> = { window, document: window.document };
  for (const name of names)
    Object.defineProperty(globalThis, name, {
      value: values[name] ?? (window as unknown as Record<string, unknown>)[name],
      configurable: true,
      writable: true,
    });
  globalThis.IS_REACT_ACT_ENVIRONMENT = true;
  try {
    return await run(window);
  } finally {
    names.forEach((name, i) => {
      const was = before[i];
      if (was) Object.defineProperty(globalThis, name, was);
      else Reflect.deleteProperty(globalThis, name);
    });
    await window.happyDOM.close();
  }
}

export async function play(
  files: FileSet,
  entry: { readonly file: string; readonly export: string; readonly props: Record<string, unknown> },
  deeds: readonly Deed[],
): Promise<Seen[]> {
  return onPage(async (window) => {
    let calls: string[] = [];
    globalThis.log = (...args) => void calls.push(JSON.stringify(args));
    const component = loadModule(files, entry.file)[entry.export] as Parameters<typeof createElement>[0];
    const page = window.document.createElement('div');
    window.document.body.append(page);
    const root = createRoot(page);
    const seen: Seen[] = [];
    const look = () => {
      // What stands in a field is no part of the markup.
      const fields = [...page.querySelectorAll('input')].map((f) => `${f.value}${f.checked ? ' checked' : ''}`);
      seen.push({ html: `${page.innerHTML}\n${fields.join('|')}`, calls });
      calls = [];
    };
    await act(() => Promise.resolve(root.render(createElement(component, entry.props))));
    look();
    for (const deed of deeds) {
      await act(async () => {
        const at = (selector: string, n: number) => {
          const all = [...page.querySelectorAll(selector)] as HTMLInputElement[];
          return all.length > 0 ? all[n % all.length] : undefined;
        };
        if ('press' in deed) at('button', deed.press)?.click();
        if ('check' in deed) at('input[type=checkbox]', deed.check)?.click();
        if ('type' in deed) {
          const field = at('input:not([type=checkbox])', deed.type);
          if (!field) return;
          const own = Object.getOwnPropertyDescriptor(window.HTMLInputElement.prototype, 'value')!;
          own.set!.call(field, deed.text);
          field.dispatchEvent(new window.Event('input', { bubbles: true }));
        }
        if ('happens' in deed) deed.happens();
        if ('wait' in deed) await new Promise((done) => setTimeout(done, deed.wait));
      });
      look();
    }
    await act(() => Promise.resolve(root.unmount()));
    look();
    return seen;
  });
}
