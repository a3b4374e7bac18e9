/** `run(argv, host)` reads the command line and calls one command; it answers with the exit code. */
import { Command, CommanderError, Option } from 'commander';
import { inSession } from './session.js';
import { EXIT, type CommonOptions, type Host } from './host.js';
import type { RepeatsOptions } from './commands/repeats.js';
import type { UnifyOptions } from './commands/unify.js';
import type { ApplyOptions } from './commands/apply.js';
import type { ProposeOptions } from './commands/propose.js';
import type { ExtractOptions } from './commands/extract.js';
import type { InlineOptions } from './commands/inline.js';
import type { CheckOptions } from './commands/check.js';
import type { UndoOptions } from './commands/undo.js';
import type { PlacingOptions } from './commands/join.js';
import type { StepOptions } from './ending.js';
import { addComponentSteps, type Act } from './component-steps.js';
import { explain } from './explain.js';
import { common, gathered, number, numbers, positive, words, writing } from './options.js';
import { parseRange, planFile } from './range.js';

export async function run(argv: readonly string[], host: Host): Promise<number> {
  let code: number = EXIT.done;
  const program = new Command('verkstad');
  program
    .description(
      'Splits large front-end components into smaller ones, in small steps, and proves that behaviour did not change.',
    )
    .exitOverride()
    .configureOutput({
      writeOut: host.out,
      writeErr: host.err,
      outputError: (text, write) => write(explain(text, argv, host, program)),
    })
    .showSuggestionAfterError(false)
    .helpCommand(false)
    .addHelpText(
      'after',
      '\nExit code: 0 done · 1 found what was asked to fail on · 2 usage or unreadable input · 3 refused, nothing written · 4 a fault of Verkstad',
    );

  const act: Act = async (options, target, command) => {
    code = await inSession(host, options, target, command);
  };
  // In the order in which they are listed.
  for (const add of [addReading, addPlans, addCuts, addComponentSteps, addCheck, addMerging, addPlacing, addUndo])
    add(program, act);

  program.option('-V, --version', 'the version');
  if (argv.length === 0) {
    host.out(program.helpInformation());
    return EXIT.done;
  }
  try {
    await program.parseAsync(['node', 'verkstad', ...argv]);
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? EXIT.done : EXIT.usage;
    throw error;
  }
  return code;
}

function addReading(program: Command, act: Act): void {
  common(program.command('survey').argument('[paths...]', 'files or folders to look at'))
    .description('the whole at a glance: component tree, sizes, state, what deserves a look')
    .option('--limit <n>', 'how many components worth a look to name', positive, 8)
    .option('--all', 'the whole tree, however long')
    .option('--no-cache', 'read every file again')
    .addOption(
      new Option('--fail-on <severity>', 'exit 1 when there are findings of this severity, or a worse one').choices([
        'hint',
        'warning',
      ]),
    )
    .action(
      async (
        paths: string[],
        options: CommonOptions & { limit: number; all?: boolean; cache: boolean; failOn?: string },
      ) => {
        await act(options, paths[0], async (session) =>
          (await import('./commands/survey.js')).surveyCommand(session, paths, options),
        );
      },
    );

  common(program.command('tree').argument('[entry]', 'component or file to begin with'))
    .description('the component tree')
    .addOption(
      new Option('--format <form>', 'form of the output').choices(['text', 'json', 'mermaid', 'dot']).default('text'),
    )
    .action(async (entry: string | undefined, given: CommonOptions & { format: string }) => {
      const options = { ...given, json: given.json ?? given.format === 'json' };
      await act(options, entry !== undefined && /[./\\]/.test(entry) ? entry : undefined, async (session) =>
        (await import('./commands/tree.js')).treeCommand(session, entry, options),
      );
    });

  common(
    program
      .command('repeats')
      .argument('[paths...]', 'files or folders to look at; or the id of one group, to see all of it'),
  )
    .description('what stands more than once: markup, logic, frames of pages; only the differences, side by side')
    .addOption(new Option('--kind <kind>', 'only one kind').choices(['markup', 'logic', 'frame']))
    .option('--min-worth <n>', 'leave out what is worth less', number)
    .option('--limit <n>', 'how many groups to show', positive, 20)
    .action(async (paths: string[], options: RepeatsOptions) => {
      await act(options, paths[0], async (session) =>
        (await import('./commands/repeats.js')).repeatsCommand(session, paths, options),
      );
    });
}

function addPlans(program: Command, act: Act): void {
  common(program.command('propose').argument('[paths...]', 'files or folders to look at'))
    .description('where to cut: components worth having, all cuts together, and what is fine as it is')
    .option('--goal <limits>', 'lines=N: cut until no component has more; props=N: none takes more')
    .option('--out <file>', 'write the plan there, to read, change and apply')
    .option('--into <language>', 'weigh HTML pages as the components of vue or jsx that they become')
    .option('--states', 'a table of every state: who reads it, who writes it, where it could live')
    .option('--alternatives', 'where one value decides in several places: two ways to cut, side by side')
    .option('--turned-down', 'what was considered and not proposed, and why')
    .option('--since <when>', 'the window of history, as git reads it (default: 1 year ago)')
    .option('--limit <n>', 'how many components to take apart on screen', positive, 6)
    .action(async (paths: string[], options: ProposeOptions) => {
      await act(options, paths[0], async (session) =>
        (await import('./commands/propose.js')).proposeCommand(session, paths, options),
      );
    });

  common(
    program
      .command('apply')
      .argument('<plan...>', 'a plan file, numbers of the last `verkstad propose`, or all of it: all'),
  )
    .description('take the steps of a plan one after another, each proven before the next')
    .option('--commit', 'one git commit for each step')
    .option('--check <level>', 'run the program before and after each step: expand, types, render or browser')
    .option('--no-types', 'find types, but do not check them afterwards')
    .action(async (given: string[], options: ApplyOptions) => {
      await act(options, planFile(given), async (session) =>
        (await import('./commands/apply.js')).applyCommand(session, given, options),
      );
    });
}

function addCuts(program: Command, act: Act): void {
  writing(
    common(
      program
        .command('extract')
        .argument(
          '<file:from-to>',
          'lines, or line:column, as in src/App.tsx:12-30 or src/App.tsx:12:5-30:11; or a function that gives markup back, which is gone then, as in src/App.tsx:renderHead; or a component, all of whose markup leaves what it knows, as in src/App.tsx:App',
        ),
    )
      .description('cut one region out into a component of its own, proven')
      .option('--name <name>', 'name of the new component (default: from what the region shows)')
      .option('--to <path>', 'file for the new component (default: beside its host)')
      .option('--same-file', 'keep the new component in the file of its host')
      .option('--into <language>', 'for an HTML page: write it as components of vue or jsx')
      .addOption(
        new Option('--props <style>', 'hand over objects whole or member by member').choices([
          'auto',
          'members',
          'objects',
        ]),
      )
      .option('--input <name=code>', "what the part takes, as in hidden=tab !== 'harvests'", gathered)
      .option(
        '--event <name=code>',
        'what happened and what the host then does, as in choose(id)=setChosen(id)',
        gathered,
      )
      .option('--slot <name=lines>', SLOT, gathered)
      .option('--stays <names>', 'what only the region uses and stays in the host', words)
      .option('--along <names>', 'what goes along though more crosses then', words),
  ).action(async (range: string, options: ExtractOptions) => {
    await act(options, parseRange(range)?.file, async (session) =>
      (await import('./commands/extract.js')).extractCommand(session, range, options),
    );
  });

  writing(
    common(
      program
        .command('hook')
        .argument('<file:from-to>', 'lines of whole statements, as in src/App.tsx:12-14 or src/App.tsx:12-14,30-41'),
    )
      .description('make a hook of statements of a component: state with its effects and handlers, proven')
      .option('--name <name>', 'name of the new hook (default: after the first state)')
      .option('--to <path>', 'file for the new hook (default: beside its component)'),
  ).action(async (range: string, options: StepOptions) => {
    await act(options, parseRange(range.split(',')[0]!)?.file, async (session) =>
      (await import('./commands/hook.js')).hookCommand(session, range, options),
    );
  });
}

function addCheck(program: Command, act: Act): void {
  common(program.command('check'))
    .description('same behaviour as before? text, types, rendering and a real browser, each a witness of its own')
    .option('--against <what>', 'a revision, a folder, or last (default: the last change, else HEAD)')
    .addOption(
      new Option('--level <level>', 'how far to go; the levels before it are checked as well')
        .choices(['expand', 'types', 'render', 'browser'])
        .default('render'),
    )
    .option('--steps <n>', 'browser: at most that many actions', positive, 200)
    .option('--seconds <n>', 'browser: at most about that long', positive, 120)
    .action(async (options: CheckOptions) => {
      await act(options, undefined, async (session) =>
        (await import('./commands/check.js')).checkCommand(session, options),
      );
    });
}

function addMerging(program: Command, act: Act): void {
  writing(
    common(program.command('inline').argument('<name>', 'a component; path#Name where several have the name'))
      .description('put a component back in the place of its tags, proven')
      .option('--at <file:lines>', 'only the tag in these lines; the component stays for the others'),
  ).action(async (name: string, options: InlineOptions) => {
    await act(options, parseRange(options.at ?? '')?.file, async (session) =>
      (await import('./commands/inline.js')).inlineCommand(session, name, options),
    );
  });

  const merging = (step: 'unify' | 'frame', about: string): Command =>
    writing(
      common(
        program
          .command(step)
          .argument('<id>', 'a repeat, as `verkstad repeats` calls it')
          .argument('[paths...]', 'the files or folders that were looked at, where it was not the whole project'),
      )
        .description(about)
        .option('--name <name>', 'what to call it (default: from what it shows or does)')
        .option('--to <path>', 'file for it (default: in the folder closest to all places)')
        .option('--only <numbers>', 'only these places, as in 1,2,4', numbers)
        .option(
          '--input <name=code>',
          'what the places hand over: an input under another name, or code of the first',
          gathered,
        )
        .option('--event <name=event>', 'an event under another name', gathered)
        .option('--slot <name=lines>', SLOT, gathered)
        .option('--into <language>', 'for HTML pages: write them as components of vue or jsx'),
    );

  merging('unify', 'make one component, function or hook of a repeat, with a use in every place, proven')
    .option('--as-list', 'places side by side become records and one use in a loop')
    .action(async (id: string, paths: string[], options: UnifyOptions) => {
      await act(options, paths[0], async (session) =>
        (await import('./commands/unify.js')).unifyCommand(session, 'unify', id, paths, options),
      );
    });
  merging('frame', 'make a layout of what pages share around their own content, proven').action(
    async (id: string, paths: string[], options: UnifyOptions) => {
      await act(options, paths[0], async (session) =>
        (await import('./commands/unify.js')).unifyCommand(session, 'frame', id, paths, options),
      );
    },
  );
}

function addPlacing(program: Command, act: Act): void {
  const placing = (step: 'join' | 'part', what: string, about: string): Command =>
    common(program.command(step).argument('<file>', what))
      .description(about)
      .option('--dry-run', 'write nothing; the unified diff on stdout')
      .option('--unproven', 'write even what cannot be proven, and say so')
      .action(async (file: string, options: PlacingOptions) => {
        await act(options, file, async (session) =>
          (await import('./commands/join.js')).joinCommand(session, step, file, options),
        );
      });
  placing(
    'join',
    'a .vue file with parts elsewhere, a page with Vue templates, or a script with templates in strings',
    'bring template and script of each component together in one file, proven',
  ).option('--build', 'a bundler builds it, though package.json names none');
  placing('part', 'a .vue file', 'put template and script of a component into files of their own, proven');
}

function addUndo(program: Command, act: Act): void {
  common(program.command('undo').argument('[id]', 'take back every change down to this one', positive))
    .description('take back the last change, or all down to a given one')
    .option('--list', 'name the changes that can be taken back')
    .option('--as-is', 'leave every file as it is, and forget the change')
    .action(async (id: number | undefined, options: UndoOptions) => {
      await act(options, undefined, async (session) =>
        (await import('./commands/undo.js')).undoCommand(session, id, options),
      );
    });
}

const SLOT = 'content that stays written where it is, as in 14-18 or actions=14-18';
