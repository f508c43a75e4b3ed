/** How text looks in the proof: its style's look at the scale of the strip beside it, within what can be read. */
import type { Align, ResolvedStyle } from '../api/client';

const USUAL = 14.5; // pixels of running text, at the least
const SIZES = [13, 30] as const; // pixels

/** CSS for text of a style; ``body`` is the size of running text in points, ``scale`` pixels for each point. */
export function textLook(style: ResolvedStyle | undefined, body: number, scale: number, align: Align | null | undefined): string {
  const size = (style?.size ?? body) * Math.max(scale, USUAL / body);
  return [
    `font-size:${Math.min(Math.max(size, SIZES[0]), SIZES[1])}px`,
    `font-family:var(--${style?.family === 'sans' ? 'sans' : style?.family === 'mono' ? 'mono' : 'serif'})`,
    `font-weight:${style?.bold ? 700 : 400}`,
    `font-style:${style?.italic ? 'italic' : 'normal'}`,
    // Emphasis differs from the style, whatever that is.
    `--emphasis-weight:${style?.bold ? 400 : 700}`,
    `--emphasis-style:${style?.italic ? 'normal' : 'italic'}`,
    style?.color ? `color:#${style.color}` : '',
    `text-align:${(align ?? style?.align ?? 'left').replace('justify', 'left')}`,
  ].join(';');
}
