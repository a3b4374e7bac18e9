/** Commands of steps that take a component, or code, by its name: `module`, `function`, `forms`, `through`, `inputs`, `home`. */
import type { Command } from 'commander';
import type { FormsOptions } from './commands/forms.js';
import type { HomeOptions } from './commands/home.js';
import type { InputsOptions } from './commands/inputs.js';
import type { ThroughOptions } from './commands/through.js';
import type { StepOptions } from './ending.js';
import type { CommonOptions } from './host.js';
import { common, words, writing } from './options.js';
import type { Ended, Session } from './session.js';

/** Ends with what a command says, in the project of `target`. */
export type Act = (
  options: CommonOptions,
  target: string | undefined,
  command: (session: Session) => Promise<Ended>,
) => Promise<void>;

export function addComponentSteps(program: Command, act: Act): void {
  for (const add of [addModule, addFunction, addForms, addThrough, addInputs, addHome]) add(program, act);
}

function addModule(program: Command, act: Act): void {
  writing(
    common(
      program
        .command('module')
        .argument(
          '<file:what>',
          'code by its lines, as in src/App.jsx:12-18, or declarations, as in src/App.jsx:formatDate,KINDS',
        ),
    )
      .description('take logic out of a file to a module: requests, calculations, constants, proven')
      .option('--name <name>', 'name of the function (default: after what it sends or gives)')
      .option('--to <path>', 'the module, new or there already (default: by the address, or beside the file)'),
  ).action(async (what: string, options: StepOptions) => {
    await act(options, /^(.+?\.\w+):/.exec(what)?.[1], async (session) =>
      (await import('./commands/module.js')).moduleCommand(session, what, options),
    );
  });
}

function addFunction(program: Command, act: Act): void {
  writing(
    common(
      program
        .command('function')
        .argument('<component>', 'a component that is a class; path#Name where several have the name'),
    ).description('make a function with hooks of a component that is a class, proven'),
  ).action(async (component: string, options: StepOptions) => {
    await act(options, undefined, async (session) =>
      (await import('./commands/function.js')).functionCommand(session, component, options),
    );
  });
}

function addForms(program: Command, act: Act): void {
  writing(
    common(
      program
        .command('forms')
        .argument(
          '<component>',
          'a component that asks the same in many places; path#Name where several have the name',
        ),
    )
      .description('one component for each form of it, and the choice in one place, proven')
      .requiredOption('--by <value>', "what decides, as the component writes it: kind, visit.kind === 'sick'")
      .option('--names <names>', 'of the forms, as in SickVisit,WellVisit, in the order in which it asks', words)
      .option('--new-lifetime', 'do it although what stands in several forms is made anew when the answer changes'),
  ).action(async (component: string, options: FormsOptions) => {
    await act(options, undefined, async (session) =>
      (await import('./commands/forms.js')).formsCommand(session, component, options),
    );
  });
}

function addThrough(program: Command, act: Act): void {
  writing(
    common(
      program
        .command('through')
        .argument(
          '<component>',
          'a component that hands on what it does not use; path#Name where several have the name',
        ),
    )
      .description('what takes that goes through it as content, written where it is shown, proven')
      .option(
        '--inputs <names>',
        'which of its inputs, as in kilos,onWeigh (default: all that it only hands on)',
        words,
      )
      .option('--in <component>', 'the component above in which it is to be written (default: as far up as it goes)'),
  ).action(async (component: string, options: ThroughOptions) => {
    await act(options, undefined, async (session) =>
      (await import('./commands/through.js')).throughCommand(session, component, options),
    );
  });
}

function addInputs(program: Command, act: Act): void {
  writing(
    common(
      program
        .command('inputs')
        .argument('<component>', 'a component that takes what says nothing; path#Name where several have the name'),
    )
      .description('inputs that no place hands over, or every place alike, leave a component, proven')
      .option('--names <names>', 'of its inputs, as in icon,size (default: all that say nothing)', words),
  ).action(async (component: string, options: InputsOptions) => {
    await act(options, undefined, async (session) =>
      (await import('./commands/inputs.js')).inputsCommand(session, component, options),
    );
  });
}

function addHome(program: Command, act: Act): void {
  writing(
    common(
      program
        .command('home')
        .argument('<component>', 'the component that keeps it; path#Name where several have the name')
        .argument('<states...>', 'names of what it keeps'),
    )
      .description('bring state home: to the lowest component that all its uses are in, proven')
      .option('--in <component>', 'the component that is to keep it, below or above')
      .option('--new-lifetime', 'do it although it would live for another time; the note says what is lost or kept'),
  ).action(async (component: string, states: string[], options: HomeOptions) => {
    await act(options, undefined, async (session) =>
      (await import('./commands/home.js')).homeCommand(session, component, states, options),
    );
  });
}
