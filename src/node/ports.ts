/** All parsers that Node has, each loaded when it is first needed. */
import type { Ports } from '../core/languages/language.js';
import { remembering } from '../core/script/parser.js';
import { oxcParser } from './parser.js';
import { styleParser } from './styles.js';
import { vueTemplates } from './templates.js';

/** `remembered`: how many parsed scripts are kept for steps that look at one text several times. */
export function nodePorts(remembered = 12): Ports {
  return { script: remembering(oxcParser, remembered), template: vueTemplates, styles: styleParser };
}
