/** All parsers that Node has, each loaded when it is first needed. */
import type { Ports } from '../core/language/ports.js';
import { remembering } from '../core/script/parser.js';
import { oxcParser } from './parser.js';
import { styleParser } from './styles.js';
import { vueTemplates } from './templates.js';

/** `remembered`: how many parsed scripts are kept for steps that look at one text several times. */
export function nodePorts(remembered = 12): Ports {
  return { script: remembering(oxcParser, remembered), parsers: { vue: vueTemplates }, styles: styleParser };
}
