/** Rows on the clipboard: for other programs as text and as HTML, for documents here with all that they are. */
import type { Block, Inline, ResolvedStyle, TableBlock, TextBlock } from '../api/client';
import { BOLD, ITALIC, isTable, isText, readable, roleOf, STRIKE, SUB, SUPER, tableText, UNDERLINE } from '../shared/blocks';
import { notices } from '../state/notices.svelte';
import type { Proof } from '../state/proof.svelte';

/** The type of data that only documents here understand. */
const ROWS = 'application/x-even-quill-rows+json';

interface Copied {
  blocks: Block[];
  styles: ResolvedStyle[];
}

const escaped = (text: string) => text.replace(/[&<>"]/g, (sign) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[sign]!);

/** Content as HTML; emphasis is a difference from the style. */
function htmlOf(content: readonly Inline[], style: ResolvedStyle | undefined): string {
  return content
    .map((item) => {
      const text = item.type === 'break' ? '<br>' : escaped(readable([item]));
      const marks = item.marks ?? 0;
      const tags = [
        !!(marks & BOLD) !== !!style?.bold && 'b',
        !!(marks & ITALIC) !== !!style?.italic && 'i',
        marks & UNDERLINE && 'u',
        marks & STRIKE && 's',
        marks & SUPER && 'sup',
        marks & SUB && 'sub',
      ].filter((tag): tag is string => !!tag);
      return tags.map((tag) => `<${tag}>`).join('') + text + tags.reverse().map((tag) => `</${tag}>`).join('');
    })
    .join('');
}

function htmlOfText(block: TextBlock, styles: readonly ResolvedStyle[], label: string): string {
  const style = styles.find((one) => one.id === block.style);
  const role = roleOf(block);
  // The weight of a heading is that of its tag.
  const inner = htmlOf(block.content ?? [], role === 'heading' && style ? { ...style, bold: false } : style);
  if (role === 'heading') return `<h${Math.min(block.level ?? 1, 6)}>${inner}</h${Math.min(block.level ?? 1, 6)}>`;
  if (role === 'code') return `<pre>${inner}</pre>`;
  return `<p>${label ? `${escaped(label)} ` : ''}${inner}</p>`;
}

function htmlOfTable(block: TableBlock, styles: readonly ResolvedStyle[], labels: Record<string, string>): string {
  const rows: string[] = [];
  for (const cell of block.cells) {
    const tag = cell.row < (block.header_rows ?? 0) ? 'th' : 'td';
    const spans = `${(cell.columns ?? 1) > 1 ? ` colspan="${cell.columns}"` : ''}${(cell.rows ?? 1) > 1 ? ` rowspan="${cell.rows}"` : ''}`;
    const inner = cell.texts
      .map((text) => (labels[text.id] ? `${escaped(labels[text.id]!)} ` : '') + htmlOf(text.content ?? [], styles.find((one) => one.id === text.style)))
      .join('<br>');
    rows[cell.row] = `${rows[cell.row] ?? ''}<${tag}${spans}>${inner}</${tag}>`;
  }
  return `<table>${rows.map((row) => `<tr>${row}</tr>`).join('')}</table>`;
}

/** Rows as text, as HTML and as what they are. */
export function dataOf(blocks: readonly Block[], styles: readonly ResolvedStyle[], labels: Record<string, string>): { text: string; html: string; rows: string } {
  const told = blocks.filter((block) => isText(block) || isTable(block));
  const used = new Set(told.flatMap((block) => (isText(block) ? [block.style ?? ''] : isTable(block) ? block.cells.flatMap((cell) => cell.texts.map((text) => text.style ?? '')) : [])));
  const copied: Copied = { blocks: told, styles: styles.filter((style) => used.has(style.id)) };
  return {
    text: told.map((block) => (isText(block) ? `${labels[block.id] ? `${labels[block.id]} ` : ''}${readable(block.content)}` : isTable(block) ? tableText(block) : '')).join('\n'),
    html: told.map((block) => (isText(block) ? htmlOfText(block, styles, labels[block.id] ?? '') : isTable(block) ? htmlOfTable(block, styles, labels) : '')).join(''),
    rows: JSON.stringify(copied),
  };
}

/** Whether the clipboard is for rows: nothing is marked as text, and no field is typed in. */
function isForRows(proof: Proof): boolean {
  const at = document.activeElement;
  return !proof.editing && !proof.equationInHand && !at?.closest('input, textarea, select, [contenteditable="true"], [role="dialog"]') && !!document.getSelection()?.isCollapsed;
}

export function copyRows(event: ClipboardEvent, proof: Proof) {
  const blocks = proof.inHand;
  if (!blocks.length || !isForRows(proof)) return;
  const data = dataOf(blocks, proof.opened?.styles ?? [], proof.labels);
  event.clipboardData?.setData('text/plain', data.text);
  event.clipboardData?.setData('text/html', data.html);
  event.clipboardData?.setData(ROWS, data.rows);
  event.preventDefault();
  const pictures = blocks.filter((block) => !isText(block) && !isTable(block)).length;
  const count = blocks.length - pictures;
  notices.say(`${count === 1 ? '1 row is' : `${count} rows are`} on the clipboard.${pictures ? ' Pictures are not copied.' : ''}`);
}

/** Puts rows that were copied here, in this document or another one, behind those in hand. */
export function pasteRows(event: ClipboardEvent, proof: Proof) {
  const data = event.clipboardData?.getData(ROWS);
  if (!data || proof.readOnly || !isForRows(proof)) return;
  event.preventDefault();
  const { blocks, styles } = JSON.parse(data) as Copied;
  const after = proof.inHand.at(-1)?.id ?? proof.selected ?? null;
  void proof.send({ op: 'put_rows', after, blocks: blocks.filter((block) => isText(block) || isTable(block)), styles }).then((change) => {
    if (change?.focus) proof.selected = change.focus.block;
  });
}
