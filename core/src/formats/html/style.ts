import { authorHues } from '../../hues/table.js';

/** How a page of ours looks by itself: in both themes, on every width, and on paper. No script, nothing from elsewhere. */

const hue = (theme: 'light' | 'dark') =>
  authorHues[theme].map(({ line, wash }, i) => `.by-${i} { --line: ${line}; --wash: ${wash} }`).join('\n');

export const pageStyle = `
:root { color-scheme: light dark; --ink: #1d1b22; --sheet: #fff; --quiet: #5f6068; --rule: #d5d9da; --line: var(--ink); --wash: transparent;
  --tea: #83500f; --plum: #5b2546; --sea: #1f5c7a; --moss: #4b5d16; --grey: #5f6068 }
${hue('light')}
@media (prefers-color-scheme: dark) {
:root { --ink: #ece9e4; --sheet: #1e1f24; --quiet: #a5a6ad; --rule: #3a3b42; --tea: #e0b070; --plum: #dba3c5; --sea: #8fc6e4; --moss: #b9cb84; --grey: #a5a6ad }
${hue('dark')}
}
* { box-sizing: border-box }
body { margin: 0; background: var(--sheet); color: var(--ink); font: 1.06rem/1.6 Georgia, 'Liberation Serif', serif; overflow-wrap: anywhere }
main, footer { max-width: 40rem; margin: 0 auto; padding: 2rem 1.25rem }
main p, main li, main h1, main h2, main h3, main h4, main h5, main h6, main td, main th { white-space: break-spaces; tab-size: 4 }
p { margin: 0 0 .7em }
h1, h2, h3, h4, h5, h6 { line-height: 1.25; margin: 1.4em 0 .5em; font-weight: 600 }
blockquote { margin: .7em 0; padding-left: 1em; border-left: 2px solid var(--rule) }
ul, ol { margin: 0 0 .7em; padding-left: 1.8em }
li.bare { list-style: none }
.align-left { text-align: left } .align-center { text-align: center } .align-right { text-align: right } .align-justify { text-align: justify }
${Array.from({ length: 8 }, (_, i) => `.indent-${i + 1} { margin-left: ${(i + 1) * 2}em }`).join(' ')}
table { border-collapse: collapse; margin: .7em 0; max-width: 100% }
td, th { border: 1px solid var(--rule); padding: .3em .6em; vertical-align: top; text-align: start }
td > p, th > p, li > p { margin: 0 }
img { max-width: 100%; height: auto }
a { color: inherit }
ins { text-decoration: underline; text-decoration-color: var(--line); text-decoration-thickness: 2px; text-underline-offset: 3px; background: var(--wash) }
del { text-decoration: line-through; text-decoration-color: var(--line); text-decoration-thickness: 2px }
.formatting { border-bottom: 2px dotted var(--line) }
.restyled { border-inline-start: 3px dotted var(--line); padding-inline-start: .6em; margin-inline-start: -.8em }
tr[data-marks], td[data-marks], th[data-marks] { outline: 2px dashed var(--line); outline-offset: -2px }
.opening { font-size: .85em }
.about { border-bottom: 1px solid var(--quiet) }
mark { color: inherit; background: color-mix(in srgb, var(--tint, #f4e3b8) 45%, transparent) }
.tint-plum { --tint: #d38fb4 } .tint-sea { --tint: #7fbfe0 } .tint-moss { --tint: #b3c66a } .tint-tea { --tint: #e6b85c }
${['tea', 'plum', 'sea', 'moss', 'grey'].map((name) => `.colour-${name} { color: var(--${name}) }`).join(' ')}
sup.ref { font-size: .75em; line-height: 0 }
sup.said { margin-left: .15em } sup.said a { border: 1px solid var(--quiet); border-radius: 3px; padding: 0 .3em; text-decoration: none; color: var(--quiet) }
.carried { border: 1px solid var(--rule); border-radius: 3px; padding: 0 .25em; font-size: .9em; color: var(--quiet) }
footer { border-top: 1px solid var(--rule); font-size: .92rem }
footer h2 { font-size: 1.05rem; margin-top: 1.2em }
footer table { width: 100%; font-size: .86rem }
aside { margin: 0 0 1em; padding-left: .8em; border-left: 3px solid var(--line) }
aside article p { margin: 0 0 .3em }
aside header { color: var(--quiet); font-size: .86rem }
.key { color: var(--quiet); font-size: .86rem }
.key b { color: var(--line); font-weight: 600 }
@media print { :root { color-scheme: light } body { font-size: 11pt; background: none } main, footer { max-width: none; padding: 0 } a[href^=http]::after { content: ' (' attr(href) ')'; font-size: .8em } tr, aside, li { break-inside: avoid } h1, h2, h3 { break-after: avoid } }
`;
