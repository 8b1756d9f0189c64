import type { CompletionContext, CompletionResult } from "@codemirror/autocomplete";
import type { EditorView, Tooltip } from "@codemirror/view";
import { type Flow, flowAt } from "./yamlFlow";

/**
 * The words that definitions know, by where they may stand: a path of the keys above, such as {@code task} for the keys
 * of a task and {@code task.schedules} for those of each of its schedules.
 */
export type Word = { word: string; help: string; values?: string[] };
export type Vocabulary = Record<string, Word[]>;

const KEY = /^(\s*(?:- )?\s*)([A-Za-z][\w-]*):/;

const indentOf = (line: string) => line.match(/^(\s*(?:- +)?)/)?.[1].length ?? 0;

/** The keys above a line, outermost first, with the kind of thing at the front. */
export function pathAt(lines: string[], line: number, column: number): string[] {
  let indent = Math.min(indentOf(lines[line] ?? ""), column);
  const path: string[] = [];
  let start = line;
  while (start > 0 && !/^---/.test(lines[start])) start--;
  for (let at = line - 1; at >= start && indent > 0; at--) {
    const key = lines[at].match(KEY);
    if (key && indentOf(lines[at]) < indent) {
      indent = indentOf(lines[at]);
      // an item's first key stands deeper than the list it is in; its siblings are not above it
      if (lines[at].trimStart().startsWith("- ")) indent = lines[at].indexOf("-");
      else path.unshift(key[2]);
    }
  }
  const kind = lines
    .slice(start, endOf(lines, line))
    .map((each) => each.match(/^([a-z]+):/)?.[1])
    .find((each) => each !== undefined);
  return kind ? [kind, ...path] : path;
}

function endOf(lines: string[], line: number): number {
  let end = line + 1;
  while (end < lines.length && !/^---/.test(lines[end])) end++;
  return end;
}

/** The keys that stand beside those of a line: in the same block, and in a list in the same item. */
export function besideAt(lines: string[], line: number, column: number): string[] {
  const indent = Math.min(indentOf(lines[line] ?? ""), column);
  const keys: string[] = [];
  const look = (step: 1 | -1) => {
    for (let at = line + step; at >= 0 && at < lines.length && !/^---/.test(lines[at]); at += step) {
      const deep = indentOf(lines[at]);
      if (lines[at].trim() === "" || deep > indent) continue;
      const begins = lines[at].trimStart().startsWith("- ");
      if (deep < indent || (begins && step > 0)) return;
      const key = lines[at].match(KEY);
      if (key) keys.push(key[2]);
      if (begins) return;
    }
  };
  if (!(lines[line] ?? "").trimStart().startsWith("- ")) look(-1);
  look(1);
  return keys;
}

/**
 * The words that may stand at a path; names that people give, such as those of parameters, stand as a star. Where a key
 * beside decides what else may stand there, the words are those that go with it.
 */
export function wordsAt(path: string[], words: Vocabulary | undefined, beside: string[] = []): Word[] {
  if (!words) return [];
  const place = Object.keys(words).find((each) => {
    const parts = each === "" ? [] : each.split(".");
    return parts.length === path.length && parts.every((part, i) => part === "*" || part === path[i]);
  });
  if (place === undefined) return [];
  const decided = beside.map((key) => words[`${place}+${key}`]).find((each) => each !== undefined);
  return decided ?? words[place];
}

export function completeWords(context: CompletionContext, words: Vocabulary | undefined): CompletionResult | null {
  const line = context.state.doc.lineAt(context.pos);
  const before = line.text.slice(0, context.pos - line.from);
  const lines = context.state.doc.toString().split("\n");
  const flow = flowAt(lines, line.number - 1, before.length);
  if (flow) return completeFlow(context, flow, words);
  const path = pathAt(lines, line.number - 1, before.length);
  const beside = besideAt(lines, line.number - 1, before.length);
  const value = before.match(/^\s*(?:- )?([\w-]+):\s+([\w-]*)$/);
  if (value) {
    return valuesOf(context, value[2], wordsAt(path, words, beside), value[1]);
  }
  const key = before.match(/^\s*(?:- )?([\w-]*)$/);
  return key ? keysOf(context, key[1], wordsAt(path, words, beside), beside) : null;
}

/** The same within braces. */
function completeFlow(context: CompletionContext, flow: Flow, words: Vocabulary | undefined): CompletionResult | null {
  if (!/^[\w-]*$/.test(flow.typed)) return null;
  const known = wordsAt(flow.path, words, flow.beside);
  return flow.key === undefined
    ? keysOf(context, flow.typed, known, flow.beside)
    : valuesOf(context, flow.typed, known, flow.key);
}

function valuesOf(context: CompletionContext, typed: string, known: Word[], key: string): CompletionResult | null {
  const values = known.find(({ word }) => word === key)?.values;
  if (!values) return null;
  return { from: context.pos - typed.length, options: values.map((each) => ({ label: each, type: "enum" })) };
}

function keysOf(context: CompletionContext, typed: string, known: Word[], beside: string[]): CompletionResult | null {
  if (typed === "" && !context.explicit) return null;
  const options = known
    .filter(({ word }) => !beside.includes(word))
    .map(({ word, help }) => ({ label: word, apply: `${word}: `, info: help, type: "property" }));
  return options.length > 0 ? { from: context.pos - typed.length, options } : null;
}

/** What a key is for, where the pointer rests on it. */
export function wordHelp(view: EditorView, position: number, words: Vocabulary | undefined): Tooltip | null {
  const line = view.state.doc.lineAt(position);
  const at = position - line.from;
  const key = [...line.text.matchAll(/([A-Za-z][\w-]*):(?=\s|$)/g)].find(
    ({ index, 1: word }) => at >= index && at <= index + word.length,
  );
  if (!key) return null;
  const lines = view.state.doc.toString().split("\n");
  const flow = flowAt(lines, line.number - 1, key.index);
  if (flow ? flow.key !== undefined : line.text.match(KEY)?.[1].length !== key.index) return null;
  const path = flow?.path ?? pathAt(lines, line.number - 1, key.index);
  const beside = flow?.beside ?? besideAt(lines, line.number - 1, key.index);
  const found = [...wordsAt(path, words, beside), ...wordsAt(path, words)].find(({ word }) => word === key[1]);
  if (!found) return null;
  return {
    pos: line.from + key.index,
    end: line.from + key.index + key[1].length,
    create: () => {
      const dom = document.createElement("div");
      dom.style.padding = "6px 10px";
      dom.style.maxWidth = "360px";
      dom.textContent = found.values ? `${found.help} One of: ${found.values.join(", ")}.` : found.help;
      return { dom };
    },
  };
}
