import { readDocx, readText } from '@tea-pencil/core';
import { zipSync, strToU8 } from 'fflate';
import { Worker } from 'node:worker_threads';
const W = 'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"';
const docx = (body, styles) => zipSync({ 'word/document.xml': strToU8(`<w:document ${W}><w:body>${body}</w:body></w:document>`), ...(styles && { 'word/styles.xml': strToU8(`<w:styles ${W}>${styles}</w:styles>`) }) });
const p = (t, style) => `<w:p>${style ? `<w:pPr><w:pStyle w:val="${style}"/></w:pPr>` : ''}<w:r><w:t xml:space="preserve">${t}</w:t></w:r></w:p>`;
const cases = {
  'lines 5MB': ['txt', () => strToU8('\n'.repeat(5e6))],
  'one line 5MB': ['txt', () => strToU8('x'.repeat(5e6))],
  'text 4M letters 40000 lines': ['txt', () => strToU8(('tide comes in '.repeat(7) + '\n').repeat(40000))],
  'spaces 100MB': ['docx', () => docx(p(' '.repeat(1e8)))],
  'spaces between 100MB': ['docx', () => docx('<w:p>' + ' '.repeat(1e8) + '</w:p>')],
  'elements 100MB': ['docx', () => docx('<w:p/>'.repeat(1.6e7))],
  'runs 1M in one': ['docx', () => docx('<w:p>' + '<w:r><w:t>x</w:t></w:r>'.repeat(1e6) + '</w:p>')],
  'chained styles': ['docx', () => docx(Array.from({ length: 4000 }, (_, i) => p('x', 's' + i)).join(''), Array.from({ length: 4000 }, (_, i) => `<w:style w:styleId="s${i}"><w:basedOn w:val="s${i + 1}"/></w:style>`).join(''))],
  'nested 100000': ['docx', () => docx('<w:p>' + '<w:ins>'.repeat(1e5) + '</w:ins>'.repeat(1e5) + '</w:p>')],
  '100000 changes': ['docx', () => docx(Array.from({ length: 5000 }, (_, i) => '<w:p>' + Array.from({ length: 20 }, (_, k) => `<w:r><w:t xml:space="preserve">words here </w:t></w:r><w:ins w:author="Ann" w:date="2026-01-01T0${k % 10}:${String(k).padStart(2, '0')}:00Z"><w:r><w:t>new </w:t></w:r></w:ins>`).join('') + '</w:p>').join(''))],
};
const only = process.argv[2];
for (const [name, [format, make]] of Object.entries(cases)) {
  if (only && !name.includes(only)) continue;
  const bytes = make();
  const { readFile } = await import('/work/main/server/dist/exchange/read-task.js');
  global.gc?.(); const before = process.memoryUsage().rss; let peak = 0; 
  const b = performance.now();
  let r; try { r = await readFile({ bytes, format }); } catch (e) { r = { reason: 'THROWN ' + e.message }; }
  peak = process.resourceUsage().maxRSS / 1024;
  console.log(name, (bytes.length / 1024).toFixed(0) + ' KB', (performance.now() - b).toFixed(0) + ' ms', 'maxrss', peak.toFixed(0) + ' MB', r.reason ?? 'read');
}
