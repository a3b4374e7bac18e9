/**
 * The catalogue of everything Verkstad tells a person about their project or their request. Codes are stable; each
 * entry says what, and what to do next. Thrown errors are for our own bugs only.
 */
import { EditConflict, type Span } from '../text/edits.js';

export interface Problem {
  readonly code: ProblemCode;
  readonly message: string;
  readonly path: string;
  /** Offsets into the file, when the problem has a place in it. */
  readonly span?: Span;
  /** Ways out, best first. */
  readonly instead: readonly string[];
}

export type ProblemCode = keyof typeof catalogue;

const size = (bytes: number) => (bytes >= 1e6 ? `${(bytes / 1e6).toFixed(1)} MB` : `${Math.round(bytes / 1000)} kB`);

const catalogue = {
  'file-syntax': (what: string) => [`cannot be parsed: ${what}`, 'mend the syntax, then run again'],
  'file-encoding': () => ['is not UTF-8', 'convert it to UTF-8'],
  'file-empty': () => ['is empty', 'nothing to do, or delete it'],
  'file-large': (bytes: number, limit: number) => [
    `is ${size(bytes)} large; files over ${size(limit)} are not read, they are nearly always generated`,
    'raise "maxFileBytes" in verkstad.config.json if it is really source',
  ],
  'file-deep': () => [
    'is nested too deeply to be read',
    'it is probably generated: leave it out with "exclude" in verkstad.config.json',
  ],
  'file-unreadable': (why: string) => [`cannot be read: ${why}`, 'check the permissions'],
  'file-unknown': () => ['is not among the files of this project', 'check the path, --root, and the ignore rules'],
  'file-language': (extension: string) => [
    `is in no language that Verkstad reads (${extension})`,
    'name a .jsx, .tsx, .js, .ts, .vue, .astro or .html file',
  ],
  'component-unknown': (name: string, near: string | undefined) => [
    `there is no component "${name}"`,
    near === undefined ? 'see `verkstad tree`' : `did you mean ${near}?`,
  ],
  'component-several': (name: string, ids: readonly string[]) => [
    `there are ${ids.length} components called ${name}`,
    `name one of them: ${ids.join(', ')}`,
  ],
  'inline-language': (label: string) => [
    `components of ${label} are not put back yet`,
    'name one in a JSX, TSX or Vue file',
  ],
  'inline-component': (name: string, why: string) => [
    `${name} cannot be put back: ${why}`,
    'change that first, where it is not needed; or leave the component as it is',
  ],
  'inline-use': (name: string, why: string) => [
    `${name} cannot be written out here: ${why}`,
    'put the other uses back one by one with --at; this one stays',
  ],
  'inline-unused': (name: string) => [
    `nothing shows ${name}`,
    'delete it, if nothing outside of the project does either',
  ],
  'inline-tested': (name: string) => [
    `a test or a story shows ${name}, and would look at markup of its own`,
    'take that out first, or put back one tag of it (`--at FILE:LINES`)',
  ],
  'inline-place': (name: string) => [`${name} is not shown in these lines`, 'give lines that hold a tag of it'],
  'inline-elsewhere': (name: string) => [
    `${name} is used otherwise than as a tag`,
    'put single uses back with --at FILE:LINES; the component stays for the others',
  ],
  'inline-shadowed': (name: string) => [
    `"${name}" means something else at the place of the use`,
    `rename one of the two, then run again`,
  ],
  'helper-unknown': (name: string, known: readonly string[]) => [
    `no function "${name}" here gives markup back`,
    known.length > 0 ? `those that do: ${known.join(', ')}` : 'name the lines that are to be cut out: file:from-to',
  ],
  'helper-several': (name: string, all: readonly string[]) => [
    `several functions are called ${name}`,
    `say which one is meant: ${all.join(', ')}`,
  ],
  'helper-language': (label: string) => [
    `functions that give markup back are not asked for in ${label}`,
    'name the lines that are to be cut out: file:from-to',
  ],
  'helper-body': (name: string, why: string) => [
    `${name} ${why}`,
    'cut out the lines that it shows (file:from-to); the function stays then',
  ],
  'helper-use': (name: string, why: string) => [
    `${name} ${why}`,
    'call it where it is shown, or cut out the lines that it shows (file:from-to); the function stays then',
  ],
  'apart-language': (label: string, why: string) => [
    `nothing is taken apart from what it knows in ${label}: ${why}`,
    'name the lines that are to be cut out: file:from-to',
  ],
  'apart-unknown': (name: string, known: readonly string[]) => [
    `there is no component "${name}" here, nor a function of a component that gives markup back`,
    known.length > 0
      ? `its components: ${known.join(', ')}; or name lines: file:from-to`
      : 'name the lines that are to be cut out: file:from-to',
  ],
  'apart-nothing': (name: string) => [
    `${name} has no markup of its own that could be taken apart`,
    'take apart a component that has markup of its own',
  ],
  'home-language': (label: string, way: string) => [
    `state of ${label} does not go ${way} yet`,
    'move it by hand; docs/languages.md says what there is in which language',
  ],
  'home-outer': (name: string, why: string) => [
    `the state of ${name} cannot leave it: ${why}`,
    'make it a function that shows the other component by its tag',
  ],
  'home-inner': (name: string, why: string) => [
    `${name} cannot take up a state: ${why}`,
    'change that first; or leave the state where it is',
  ],
  'home-unknown': (state: string, name: string, known: readonly string[]) => [
    `${name} keeps no "${state}"`,
    known.length > 0 ? `name one of ${known.join(', ')}` : 'name a component that keeps something',
  ],
  'home-nowhere': (state: string, name: string) => [
    `no component below ${name} is the only one that uses "${state}"`,
    'name the component with --in, to see who else uses it; or leave it here',
  ],
  'home-target': (inner: string, outer: string, why: string) => [
    `${inner} cannot be the home: ${why}`,
    `name a component that ${outer} shows at one place, or one that shows ${outer}`,
  ],
  'home-shared': (state: string, by: string, inner: string) => [
    `"${state}" is also used by ${by}`,
    `its home is above both; take ${by} into ${inner} first, where it belongs there`,
  ],
  'home-place': (inner: string, why: string) => [
    `the state cannot change places with ${inner}: ${why}`,
    'a state belongs to one place: show the component at one place, as a tag',
  ],
  'home-lifetime': (lost: string) => [lost, 'say --new-lifetime if it may; nothing else changes'],
  'home-shadowed': (name: string, inner: string) => [
    `"${name}" means something else in ${inner}`,
    'rename one of the two, then run again',
  ],
  'home-circular': (name: string, inner: string) => [
    `${inner} would need "${name}", which needs ${inner} in turn`,
    `move "${name}" to a module of its own first`,
  ],
  'home-crosses': (name: string, outer: string, how: string) => [
    `what would go ${how} "${name}" of ${outer}, which stays`,
    `take "${name}" along by moving what else uses it first, or leave the state where it is`,
  ],
  'home-needs': (state: string, name: string) => [
    `"${state}" begins as something that only ${name} knows`,
    'let it begin as something that is written out, or leave it there',
  ],
  'plan-other-text': () => ['is not the text that the plan was made on', 'make the plan anew: `verkstad propose`'],
  'plan-order': (inner: string, outer: string) => [
    `${inner} stands inside of ${outer}, and comes after it in the plan`,
    `put the step for ${inner} before the one for ${outer}`,
  ],
  'plan-format': (what: string) => [`is no plan: ${what}`, 'write it with `verkstad propose --out FILE`'],
  'plan-large': (limit: number) => [
    `is larger than a plan can be (${size(limit)})`,
    'name a plan that `verkstad propose --out FILE` wrote',
  ],
  'plan-none': () => ['no plan has been proposed here', 'run `verkstad propose` first, or name a plan file'],
  'plan-number': (number: number, count: number) => [
    `there is no proposal ${number}; the last \`verkstad propose\` made ${count}`,
    'run `verkstad propose` to see them',
  ],
  'goal-format': (goal: string) => [`"${goal}" is no goal`, 'write lines=N, props=N or both, as in lines=150,props=8'],
  'out-failed': (why: string) => [`cannot be written: ${why}`, 'name a file in a folder that is there'],
  'git-failed': (what: string) => [`git: ${what}`, 'put the repository in order, or leave out --commit'],
  'range-format': (range: string) => [`"${range}" is not a range`, 'write FILE:12-30, or FILE:12:5-30:11 with columns'],
  'range-outside': (lines: number) => [
    `the range lies outside the file, which has ${lines} lines`,
    'give lines inside the file',
  ],
  'range-empty': () => ['there is no markup in this range', 'choose lines that show an element'],
  'region-opaque': (what: string) => [
    `the region cuts through ${what}, which is kept whole`,
    'take the whole of it into the range, or none of it',
  ],
  'region-assigns': (name: string) => [
    `the markup assigns to "${name}", which belongs to the component around it`,
    `move the assignment to "${name}" into a function of the component and call that from the markup`,
  ],
  'region-yield': () => ['the markup holds a "yield"', 'take its result into a variable above the markup'],
  'region-arguments': (word: string) => [
    `the markup uses "${word}" of the function around it`,
    'name what is needed as a variable above the markup',
  ],
  'region-string-ref': (name: string) => [
    `the markup names a ref by the string "${name}", which only the class around it can hold`,
    'make it a callback or a ref object first',
  ],
  'region-parent-reads': (what: string) => [
    `the region cannot become a component: ${what}`,
    'take a range inside of it, or the whole of what looks at it',
  ],
  'region-value': (what: string) => [
    `the region is a value that decides something: ${what}`,
    'take the element inside of the condition, and leave the condition where it is',
  ],
  'region-try': () => [
    'the region stands in a "try", and a component is rendered outside of it',
    'take the whole "try" into a function of its own first, or leave the region where it is',
  ],
  'region-style-scope': () => [
    'the component holds <style jsx>, and its rules would no longer reach the region',
    'move the rules that the region needs to a style sheet first',
  ],
  'region-changes': (what: string) => [
    `the order in which something is changed would be another one: ${what}`,
    'do the change in a handler or an effect, or take its result into a variable above the markup',
  ],
  'region-renders': (what: string) => [
    `the component around the region would be rendered less often, and ${what}`,
    'leave what the region reads in the component, or move that out of it first',
  ],
  'region-early': (what: string) => [
    `a value would be handed over before it is there: ${what}`,
    'leave the code that reads it later out of the range',
  ],
  'region-eager': (what: string) => [
    `a value would be worked out too early, and may fail: ${what}`,
    'take a range inside of that condition, so that it stays where it is',
  ],
  'region-circle': (name: string) => [
    `the region shows <${name}> itself: its new file and this one would import each other before either is there`,
    'leave the tag out of the range, or take the whole component',
  ],
  'region-transition': (name: string) => [
    `the transition calls "${name}" with what tells it that it has ended, if the handler takes it; an event hands that on blindly`,
    'leave the transition out of the range, and take what is in it',
  ],
  'region-framework': (framework: string) => [
    `the file is written for ${framework}, whose components are other ones than those of React`,
    'cut it by hand, or write it as a file of a language that Verkstad cuts',
  ],
  'region-key': () => [
    'the key of each turn of the loop would stand inside of the new component',
    'take the element that has the key, or put the key on the outermost element first',
  ],
  'region-instance': (name: string) => [
    `the markup uses "${name}", which means another thing in another component`,
    'take its value into a variable of the component first',
  ],
  'region-ref': (name: string) => [
    `the component reaches the element by the ref "${name}"`,
    'leave that element out of the range, or take what uses the ref into the range as well',
  ],
  'region-model': (code: string) => [
    `\`${code}\` is bound both ways to the component around it and to what the region binds itself`,
    'take the loop around it out of the range, so that its row becomes the component',
  ],
  'region-component': (name: string) => [
    `<${name}> is a component that is made inside of the component around it`,
    'move it to a file of its own',
  ],
  'region-this': () => [
    'the markup uses "this", which means another thing inside of slots and in other components',
    'leave out `this.`: a template finds the names of its component by themselves',
  ],
  'region-directive': (name: string) => [
    `${name} is a directive that only the component around it knows`,
    'register it for the application, or import it from a file of its own',
  ],
  'region-filter': (name: string) => [
    `"${name}" is a filter that only the component around it knows`,
    'register it for the application, or make it a method',
  ],
  'region-outlet': () => [
    'the slot has a name that only running tells, or holds another slot beside something that only the region knows',
    'leave the slot out of the range',
  ],
  'seam-format': (name: string, what: string) => [
    `"${name}" cannot cross so: ${what}`,
    'write NAME=CODE, or NAME(PARAMETER)=CODE with the parameters in the order in which they stand in the code',
  ],
  'seam-missing': (name: string, code: string) => [
    `there is no "${code}" in the region that "${name}" could stand for`,
    'write the code as the region has it; line breaks, quotes and spaces do not matter',
  ],
  'seam-outside': (name: string, code: string) => [
    `"${code}" says whether or how often the region is there, and stays in the host: "${name}" would stand for nothing in the part`,
    'leave it out, or take what is around the region as well',
  ],
  'seam-slot': (name: string) => [
    `these lines are no content for "${name}": content is a part of the region, and each part is given once`,
    'choose lines that show an element inside of the region',
  ],
  'seam-lines': (text: string) => [
    `"${text}" names no lines`,
    'write NAME=14-18, or 14-18 for what stands between the tags',
  ],
  'seam-repeat': (name: string, why: string) => [
    `"${name}" cannot cross so at these places: ${why}`,
    'write NAME=INPUT, as `verkstad repeats` calls the input, or NAME=CODE with code of the first place',
  ],
  'seam-handler': (name: string) => [
    `"${name}" is a part of a handler of which the rest belongs to the host as well`,
    'give the whole of what the handler does as the event',
  ],
  'seam-stays': (name: string) => [
    `"${name}" is no name of the component that the region uses`,
    'name what the component declares and the region reads',
  ],
  'seam-along': (name: string, why: string) => [`"${name}" cannot go along: ${why}`, 'leave it in the host'],
  'region-roots': () => [
    'the region has several roots, and a component of Vue 2 has one',
    'take one element, or put an element around them first',
  ],
  'same-file-vue': () => ['a Vue file holds one component', 'leave out --same-file'],
  'same-file-one': (what: string) => [`${what} holds one component`, 'leave out --same-file'],
  'region-style-across': (what: string) => [
    `a scoped style would no longer hold on both sides of the cut: ${what}`,
    'name its elements by classes of their own, or move the rule to a sheet that is global, first',
  ],
  'region-slot': (name: string) => [
    `the region holds content for the slot "${name}" of the component around it, and more besides`,
    'take that content by itself, or leave it out of the range',
  ],
  'region-own-block': (tag: string) => [
    `the region holds ${tag}, which belongs to the whole component`,
    'leave it out of the range, or mark it is:inline where it is to go along as it is',
  ],
  'region-space': () => [
    'the region begins or ends with running text, and the white space around that would be lost',
    'take the element around the text, or leave the text out of the range',
  ],
  'region-template': (why: string) => [
    `the template ${why}, so it cannot be cut`,
    'write it as HTML in the file of the component',
  ],
  'region-module-write': (name: string) => [
    `"${name}" is a variable of the module that is written after it is declared, so it cannot be shared between files`,
    'use --same-file',
  ],
  'region-private-type': (name: string) => [
    `the type "${name}" is local to a function`,
    'move the type to the top of the file',
  ],
  'repeat-unknown': (id: string, near: string) => [
    `no repeat has the id "${id}"${near}`,
    'run `verkstad repeats` for the ids; they change when a place is edited',
  ],
  'repeat-place': (given: number, most: number) => [
    `there is no place ${given}: the repeat has ${most}`,
    'see `verkstad repeats` for the numbers',
  ],
  'repeat-kind': (id: string, kind: string) => [
    kind === 'frame' ? `${id} is the frame of several pages` : `${id} is no frame, it is ${kind}`,
    kind === 'frame' ? `run \`verkstad frame ${id}\`` : `run \`verkstad unify ${id}\``,
  ],
  'repeat-places': () => ['fewer than two places are left', 'name at least two places with --only'],
  'unify-circular': (needed: string) => [
    `the places are in several files, and the common part needs "${needed}", which needs it in turn`,
    'move that into a module of its own first',
  ],
  'unify-crossing': (code: string) => [
    `\`${code}\` cannot be handed over from this place`,
    'leave this place out with --only, or take the code into a variable first',
  ],
  'unify-tag': (name: string) => [
    `<${name}> is another component in some of the places`,
    'leave those places out with --only',
  ],
  'unify-hole': (what: string) => [
    `the places differ in ${what}, which cannot be handed over`,
    'leave places out with --only, or make them alike first',
  ],
  'unify-logic': (what: string) => [
    `${what}, so this cannot become one function`,
    'leave this place out with --only, or unify by hand',
  ],
  'check-no-last': () => [
    'no change of Verkstad is on record here',
    'name a revision or a folder: `verkstad check --against HEAD`',
  ],
  'check-against': (given: string, why: string) => [
    `"${given}" is no folder and no revision that git knows: ${why}`,
    'name a folder, a commit, a branch, or last',
  ],
  'check-differs': (name: string, words: string) => [
    `after ${name} the program is not what it was: ${words}`,
    'the step was taken back; look at it with `verkstad check`, or leave it out of the plan',
  ],
  'check-level': (given: string) => [`"${given}" is no level`, 'take one of expand, types, render, browser'],
  'hook-name': (name: string) => [
    `"${name}" is no name for a hook`,
    'begin with "use" and a capital, as in useInspections',
  ],
  'module-tied': (why: string) => [
    `this cannot stand in a module: ${why}`,
    'take less of it, what only gives a value or sends a request, and leave what it does to the component there',
  ],
  'module-code': (what: string) => [
    `this can become no function of a module: ${what}`,
    'take one expression, or whole statements beside one another that come to one value',
  ],
  'module-needs': (name: string, why: string) => [
    `${name} cannot leave the file: ${why}`,
    'leave it out, or move what it hangs on by hand first',
  ],
  'module-name-unknown': (name: string) => [
    `nothing at the top of the script declares ${name}`,
    'name a function, a constant or a type of the file, or give the lines: src/App.jsx:12-20',
  ],
  'module-name': () => [
    'nothing here says what the function does',
    'give it a name with --name, as in loadVisits or totalWeight',
  ],
  'module-taken': (name: string) => [
    `${name} is the name of something else there`,
    'give another one with --name, or another module with --to',
  ],
  'module-target': (path: string) => [
    `${path} is no module that logic can go to`,
    'name a file of JavaScript or TypeScript, new or there already: --to src/api/hives.js',
  ],
  'module-commonjs': () => [
    'this file takes what it needs by require, and a module of imports would not fit it',
    'write its imports as import statements first',
  ],
  'module-script': () => ['this file has no script of its own to take logic from', 'name a file with the script in it'],
  'hook-taken': (name: string) => [`${name} is the name of something else there`, 'give another one with --name'],
  'hook-statements': (what: string) => [
    `these statements cannot become a hook: ${what}`,
    'take other statements, or move them by hand first',
  ],
  'unify-language': (what: string) => [
    `${what} is not made one in this language`,
    'leave this place out with --only, or unify it by hand',
  ],
  'unify-listed': (kind: 'logic' | 'markup') => [
    kind === 'logic'
      ? 'no step makes logic one yet that differs by an edit, hangs on its host, or stands in a Vue file'
      : 'no input can carry what differs here: a ref, an attribute that a component has at some places only, or more than a few parts',
    'make it one by hand; `verkstad repeats` goes on naming what is left',
  ],
  'unify-styles': () => [
    'the places are styled by different scoped rules',
    'make their rules alike first, or leave places out with --only',
  ],
  'list-apart': () => ['the places do not stand side by side', 'leave out --as-list'],
  'list-values': (name: string) => [
    `"${name}" is no literal at every place, so the places cannot be a list of records`,
    'leave out --as-list',
  ],
  'list-key': () => [
    'no value is different at every place, so nothing can be the key of a loop',
    'leave out --as-list',
  ],
  'into-missing': (label: string, languages: string) => [
    `${label} has no components of its own`,
    `say with --into what it is to become: ${languages}`,
  ],
  'into-unknown': (given: string, languages: string) => [
    `"${given}" is no language that a page can be written in`,
    `choose one of ${languages}`,
  ],
  'into-needless': (label: string) => [`${label} has components of its own`, 'leave out --into'],
  'into-body': () => ['has no <body> with anything to show', 'take a whole page'],
  'into-unsayable': (what: string) => [
    `the page has ${what}`,
    'change that first, or choose another language or another page',
  ],
  'into-apart': (places: number) => [
    `written as components, the ${places} pages no longer share a frame that is worth a layout`,
    'leave pages out with --only',
  ],
  'function-language': (label: string) => [`${label} has no components that are classes`, 'name a file of React'],
  'function-unknown': (name: string, known: readonly string[]) => [
    `there is no class ${name} that is a component`,
    known.length > 0 ? `name one of these: ${known.join(', ')}` : 'name a file that has classes which are components',
  ],
  'function-class': (name: string, why: string) => [
    `${name} stays a class: ${why}`,
    'take what it shows apart (`verkstad extract FILE:COMPONENT`), and leave the rest a class',
  ],
  'function-unclear': (name: string, why: string) => [
    `${name} cannot be written as a function as it stands: ${why}`,
    'write that part otherwise first',
  ],
  'function-late': (name: string, why: string) => [
    `${name} as a function would not do the same: ${why}, where a class knows its newest and a function that of its rendering`,
    'read it before, hand it over, or set state by what it was (`setState((before) => …)`), first',
  ],
  'function-reached': (name: string, why: string) => [
    `${name} is reached as an object, which a function is not: ${why}`,
    'let it take or report by props first, or leave it a class',
  ],
  'forms-language': (label: string) => [
    `in ${label} a component has one form`,
    'name a component in a language that has components of its own',
  ],
  'forms-question': (asked: string) => [
    `"${asked}" is no value that can be asked for again and again`,
    'name a value (`--by kind`, `--by visit.kind`) or what it is compared with (`--by "visit.kind === \'sick\'"`)',
  ],
  'forms-nothing': (name: string, asked: string) => [
    `what ${name} shows asks nowhere for ${asked}`,
    'write the value as the component does, and say what it is compared with only where that is a constant',
  ],
  'forms-unclear': (name: string, why: string) => [
    `${name} cannot be written as one component for each form: ${why}`,
    'write that part otherwise first, or cut a smaller region',
  ],
  'forms-lifetime': (name: string, asked: string, kept: readonly string[]) => [
    `when ${asked} changes while ${name} is shown, ${kept.join(', ')} would be made anew in each form and forget what it was`,
    'leave that out of both forms first, or say --new-lifetime where nobody would miss it',
  ],
  'forms-names': (wanted: number, names: number) => [
    `there are ${wanted} forms, and ${names === 1 ? 'one name' : `${names} names`} for them`,
    'name each form, in the order in which the component asks for them, or none',
  ],
  'through-language': (label: string) => [
    `in ${label} nothing that is handed on becomes content yet`,
    'name a component of React or Vue',
  ],
  'through-nothing': (name: string) => [
    `${name} hands nothing on as it is: it uses all that it takes`,
    'name the inputs that only one tag is given, as in `--inputs kilos,onWeigh`',
  ],
  'through-input': (input: string, name: string, known: readonly string[]) => [
    `${input} is no input that ${name} only hands on`,
    known.length > 0 ? `name of these: ${known.join(', ')}` : `${name} uses all that it takes`,
  ],
  'through-unused': (name: string) => [
    `no tag shows ${name}, so there is no place for its content`,
    'name a component that the project shows',
  ],
  'through-needs': (name: string, what: string) => [
    `what ${name} hands on needs "${what}", which ${name} itself makes`,
    'bring that to where it is shown first (`verkstad home`), or leave it handed on',
  ],
  'through-idle': (name: string, inputs: readonly string[]) => [
    `no place that shows ${name} hands over ${inputs.join(', ')}, so nothing goes through it`,
    'take what nobody hands over out of it, or name other inputs',
  ],
  'through-whole': (name: string) => [
    `all that ${name} shows is what it hands on`,
    `show that without it (\`verkstad inline ${name}\`)`,
  ],
  'through-inner': (name: string, why: string) => [
    `nothing can go through ${name} as content: ${why}`,
    'write that part otherwise first',
  ],
  'through-use': (name: string, why: string) => [
    `the place that shows ${name} ${why}`,
    'write that place otherwise first',
  ],
  'through-target': (target: string, at: string) => [
    `${target} is not reached: what shows ${at} is not one component that others show`,
    'leave `--in` out to go as far as it is possible, or name one on the way',
  ],
  'inputs-language': (label: string) => [
    `in ${label} inputs are taken out of a component by hand yet`,
    'name a component of React or Vue',
  ],
  'inputs-unshown': (name: string) => [`no tag shows ${name}`, 'name a component that the project shows'],
  'inputs-unknown': (input: string, name: string, known: readonly string[]) => [
    `${name} takes no ${input}`,
    known.length > 0 ? `name of these: ${known.join(', ')}` : 'name a component that takes something',
  ],
  'inputs-nothing': (name: string) => [
    `no input of ${name} says nothing: each is handed over somewhere, and not everywhere alike`,
    'name the inputs (`--names icon,size`) where it is shown at one place',
  ],
  'inputs-differ': (input: string, name: string, values: readonly string[]) => [
    `what ${name} is handed as ${input} is not one constant everywhere: ${values.slice(0, 4).join(', ')}`,
    'name inputs that are the same at every place, or handed over at none',
  ],
  'inputs-use': (name: string, why: string) => [
    `the place that shows ${name} ${why}`,
    'write that place otherwise first',
  ],
  'inputs-component': (name: string, why: string) => [
    `${name} cannot be written without them: ${why}`,
    'write that part otherwise first, or name fewer inputs',
  ],
  'join-nothing': () => [
    'has no component whose template or script stands somewhere else',
    'name a .vue file with `src` blocks, a page with Vue templates, or a script with templates in strings',
  ],
  'join-missing': (what: string) => [`${what} is not there`, 'mend the reference, then run again'],
  'join-folder': (what: string) => [
    `${what} stands in another folder, so that what it imports would be looked for in the wrong place`,
    'move the file beside the component first',
  ],
  'join-template': () => ['the template is put together at run time', 'write it as one string without `${}`'],
  'join-server': (what: string) => [
    `\`${what}\` is filled in by a server and would stand in the file as it is`,
    'hand the value over in the script or in a data attribute first',
  ],
  'join-bundler': () => [
    'nothing in package.json builds it: a browser cannot run what would come out',
    'say --build if it is built all the same, or will be',
  ],
  'join-module': (what: string) => [
    `its script would become a module, where ${what} does not do what it does now`,
    'change that first, or move the component to a script of its own',
  ],
  'join-enclosed': (name: string) => [
    `${name} is declared in the function around the component and would not be there in a file of its own`,
    'move it to the top of the script, out of the function, first',
  ],
  'join-instance': () => [
    'the instance that `new Vue` gives is used afterwards, and would no longer have what the root has',
    'let the root do it itself (`mounted`), or leave it as it is',
  ],
  'join-compiler': (name: string) => [
    `the compiler option \`${name}\` tells how templates are read at run time; a file is read by the build`,
    'tell it to the build, and take it out of the script first',
  ],
  'join-misread': (written: string, read: string) => [
    `a browser reads ${written} as ${read}, so that a file would mean something else than the page`,
    'write it as it is read, or put the template into a <script type="text/x-template">',
  ],
  'join-shared': (name: string) => [
    `${name} is exported, or used by several components or by the rest of the page`,
    'move it to a module of its own and import it first',
  ],
  'part-nothing': () => [
    'has no template and no plain script that could stand elsewhere',
    'nothing to do: `<script setup>` stays in the file itself',
  ],
  'part-language': (label: string) => [`${label} keeps template and script in one file`, 'name a .vue file'],
  'name-taken': (name: string) => [
    `${name} is the name of something else there`,
    'give the step another name in the plan',
  ],
  'name-invalid': (name: string) => [
    `"${name}" is not a name for this`,
    'begin a component with a capital letter, a hook with "use" and a capital, any other function with a small letter',
  ],
  'target-exists': (path: string) => [`${path} exists already`, 'give another --to or --name'],
  'target-meant': (path: string, other: string) => [
    `an import of ${path} could mean ${other}, which is there already`,
    'give another --to or --name',
  ],
  'target-outside': (path: string) => [`${path} lies outside the project`, 'give a path under the root'],
  'target-language': () => [
    'does not end in a file extension for this language',
    'end it as the file that it comes from ends',
  ],
  'proof-different': (detail: string) => [
    `the result would not be the same: ${detail}`,
    'nothing was written; choose another region, or cut a smaller one',
  ],
  'proof-unknown': (detail: string) => [
    `it cannot be proven that the result is the same: ${detail}`,
    'choose another region, or pass --unproven to write it all the same',
  ],
  'types-worse': (detail: string) => [
    `the change would bring new type errors: ${detail}`,
    'choose another region, or try --props members',
  ],
  'names-unresolved': (names: string) => [
    `names would be left without a meaning: ${names}`,
    'nothing was written; choose another region',
  ],
  'changed-meanwhile': (path: string) => [`${path} was changed since it was read`, 'run the command again'],
  'undo-nothing': (id: number | undefined) => [
    id === undefined ? 'there is no change to take back' : `there is no change ${id} to take back`,
    id === undefined ? 'nothing to do' : 'see `verkstad undo --list` for the numbers',
  ],
  'undo-foreign': () => [
    'the changes on record here were not written by you, and are never carried out',
    'see `verkstad undo --list`; delete the folder if you do not know where it comes from',
  ],
  'undo-edited': (path: string, id: number) => [
    `${path} was edited after the change`,
    'take back your edit first',
    `or keep every file as it is and forget the change: \`verkstad undo ${id} --as-is\``,
  ],
  'journal-open': (id: number, title: string) => [
    `change ${id} (${title}) was cut short, and one of its files was edited since`,
    `keep every file as it is and close the record: \`verkstad undo ${id} --as-is\``,
  ],
  'project-locked': (who: string) => [
    `${who} is writing in this project`,
    'wait until it has ended, then run again',
    'if there is no such run on that machine, delete the lock file',
  ],
  'own-folder': (what: string) => [
    `is ${what}, and Verkstad keeps its record only in a folder of its own`,
    'move it away, then run again',
  ],
  'write-failed': (why: string) => [`cannot be written: ${why}`, 'nothing was changed; mend that, then run again'],
  'write-broken': (why: string) => [
    `was cut short: ${why}`,
    'make room or mend that; the next run of any command puts the old state back',
  ],
  'edits-conflict': () => [
    'two of the changes that this would need meet in one place',
    'nothing was changed; take another range, or do it in smaller steps',
  ],
  'file-locked': (why: string) => [
    `is not written: ${why}`,
    'nothing was changed; change that first, if the file is yours to change',
  ],
  'root-missing': (path: string) => [`${path} is not a folder`, 'give a folder to --root'],
  'config-invalid': (what: string) => [`the configuration is not valid: ${what}`, 'see docs/guide.md, Configuration'],
  'entry-unknown': (entry: string, near: string) => [
    `no component or file is called "${entry}"${near}`,
    'run `verkstad survey` for the names',
  ],
} satisfies Record<string, (...args: never[]) => readonly [string, ...string[]] | string[]>;

type Args<C extends ProblemCode> = Parameters<(typeof catalogue)[C]>;

/** Builds one problem of the catalogue for a place. */
export function problem<C extends ProblemCode>(code: C, at: { path: string; span?: Span }, ...args: Args<C>): Problem {
  const make = catalogue[code] as (...a: Args<C>) => readonly string[];
  const [message, ...instead] = make(...args);
  return { code, message: message!, path: at.path, ...(at.span ? { span: at.span } : {}), instead };
}

/**
 * Runs a reading or a step. A text that is nested beyond what the stack holds is a problem of that text, and changes that
 * meet in one place are one of the step: neither is a crash.
 */
export function withinDepth<T>(path: string, run: () => T): T | Problem {
  try {
    return run();
  } catch (error) {
    if (error instanceof EditConflict) return problem('edits-conflict', { path });
    if (error instanceof RangeError && /call stack/.test(error.message)) return problem('file-deep', { path });
    throw error;
  }
}

export const problemCodes = Object.keys(catalogue) as ProblemCode[];

export function isProblem(value: unknown): value is Problem {
  return typeof value === 'object' && value !== null && 'code' in value && 'instead' in value;
}

/** The closest of `known` to a mistyped name, if any is close (edit distance at most a third of its length). */
export function didYouMean(name: string, known: Iterable<string>): string | undefined {
  let best: string | undefined;
  let least = Math.max(1, Math.floor(name.length / 3)) + 1;
  for (const candidate of known) {
    const distance = editDistance(name.toLowerCase(), candidate.toLowerCase(), least);
    if (distance < least) [best, least] = [candidate, distance];
  }
  return best;
}

/** Levenshtein distance by the two-row method, given up above `limit`. */
function editDistance(a: string, b: string, limit: number): number {
  if (Math.abs(a.length - b.length) >= limit) return limit;
  let row = Array.from({ length: b.length + 1 }, (_, i) => i);
  for (let i = 1; i <= a.length; i++) {
    const next = [i];
    for (let j = 1; j <= b.length; j++) {
      const change = row[j - 1]! + (a[i - 1] === b[j - 1] ? 0 : 1);
      next.push(Math.min(change, row[j]! + 1, next[j - 1]! + 1));
    }
    row = next;
  }
  return row[b.length]!;
}
