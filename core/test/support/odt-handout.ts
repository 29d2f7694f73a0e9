import { pixel } from './package.js';
import { end, gone, odtOf, region, start, tp, tracked } from './odt-package.js';

/** A handout as a school might send it: with everything in it that ODT files have and manuscripts mostly do not. */

const paragraphStyle = (name: string, parent: string, properties = '', words = '') =>
  `<style:style style:name="${name}" style:family="paragraph" style:parent-style-name="${parent}">` +
  `${properties && `<style:paragraph-properties ${properties}/>`}${words && `<style:text-properties ${words}/>`}</style:style>`;
const wordStyle = (name: string, words: string, more = '') =>
  `<style:style style:name="${name}" style:family="text"${more}><style:text-properties ${words}/></style:style>`;
const listStyle =
  '<text:list-style style:name="L1"><text:list-level-style-number text:level="1" style:num-format="I" style:num-suffix=")" text:start-value="3"/>' +
  '<text:list-level-style-bullet text:level="2" text:bullet-char="§"/></text:list-style>';

const automatic =
  paragraphStyle('P1', 'Standard', 'fo:text-align="center" fo:margin-top="0.2cm"', 'fo:font-weight="bold"') +
  paragraphStyle('P2', 'Text_20_body', 'fo:margin-left="1.27cm"') +
  wordStyle('T1', 'fo:font-style="italic"') +
  wordStyle('T2', 'fo:color="#aa0000" fo:letter-spacing="0.05cm"') +
  wordStyle('T3', 'fo:font-weight="normal"') +
  listStyle +
  '<style:style style:name="Tides" style:family="table"><style:table-properties style:width="12cm"/></style:style>' +
  '<style:style style:name="Tides.A" style:family="table-column"><style:table-column-properties style:column-width="4cm"/></style:style>' +
  '<style:style style:name="Tides.A1" style:family="table-cell"><style:table-cell-properties fo:background-color="#e8e0d0"/></style:style>' +
  '<style:style style:name="Sect1" style:family="section"/>' +
  '<style:style style:name="fr1" style:family="graphic"/>';

const common =
  '<style:default-style style:family="paragraph"><style:text-properties fo:language="en" fo:country="GB"/></style:default-style>' +
  '<style:style style:name="Heading_20_1" style:family="paragraph" style:default-outline-level="1"><style:text-properties fo:font-weight="bold"/></style:style>' +
  paragraphStyle('Chapter', 'Heading_20_1') +
  wordStyle('Latin', 'fo:font-style="italic"') +
  wordStyle('Internet_20_link', 'fo:color="#0563c1" style:text-underline-style="solid"');

const frame = (inner: string, more = '') =>
  `<draw:frame draw:style-name="fr1" draw:name="Frame" text:anchor-type="as-char" svg:width="2.54cm" svg:height="1.27cm"${more}>${inner}</draw:frame>`;
const picture = frame(
  '<draw:image xlink:href="Pictures/hopper.png" xlink:type="simple" xlink:show="embed" xlink:actuate="onLoad"/><svg:desc>a sand hopper</svg:desc>',
  ' draw:z-index="0"',
);
const textBox = frame(`<draw:text-box fo:min-height="0.5cm">${tp('Bring boots.')}</draw:text-box>`);
const formula = frame(
  '<draw:object xlink:href="./Object 1" xlink:type="simple" xlink:show="embed" xlink:actuate="onLoad"/>',
);

const cell = (content: string, more = '') =>
  `<table:table-cell table:style-name="Tides.A1" office:value-type="string"${more}>${content}</table:table-cell>`;
const table =
  '<table:table table:name="Tides" table:style-name="Tides"><table:table-column table:style-name="Tides.A" table:number-columns-repeated="3"/>' +
  `<table:table-header-rows><table:table-row>${cell(tp('Station'))}${cell(tp('High water'), ' table:number-columns-spanned="2" table:number-rows-spanned="1"')}<table:covered-table-cell/></table:table-row></table:table-header-rows>` +
  `<table:table-row>${cell(tp('Harrow Point'), ' table:number-columns-spanned="1" table:number-rows-spanned="2"')}${cell(tp('06:12'))}${cell(tp('5.1 m'))}</table:table-row>` +
  `<table:table-row><table:covered-table-cell/>${cell(tp('18:40'))}${cell(tp(`4.9 m${start('ct9')} neap${end('ct9')}`))}</table:table-row></table:table>`;

const annotation = (name: string, author: string, text: string, more = '') =>
  `<office:annotation${name && ` office:name="${name}"`}${more}><dc:creator>${author}</dc:creator><dc:date>2026-11-03T08:00:00</dc:date>${tp(text)}</office:annotation>`;
const note = (id: string, kind: string, number: string, text: string) =>
  `<text:note text:id="${id}" text:note-class="${kind}"><text:note-citation>${number}</text:note-citation><text:note-body>${tp(text, 'Footnote')}</text:note-body></text:note>`;

const regions = tracked(
  region('ct1', 'insertion'),
  region('ct2', 'deletion', tp('weed')),
  region('ct3', 'insertion', '', 'Tobias Oyelaran'),
  region('ct4', 'deletion', `${tp('the end of it.')}${tp('Then wait', 'P2')}`),
  region('ct5', 'format-change', '', 'Maren Holt'),
  region(
    'ct6',
    'deletion',
    `<text:list text:style-name="L1"><text:list-item>${tp('sticks')}</text:list-item></text:list>`,
  ),
  region('ct9', 'insertion', '', 'Maren Holt'),
);

/** Its blocks, each as it stands there; some become several paragraphs. */
export const odtBlocks: readonly string[] = [
  '<text:h text:style-name="Chapter" text:outline-level="1">The Wrack Line</text:h>',
  tp(
    `Look under the ${gone('ct2')}${start('ct1')}wrack${end('ct1')} for <text:span text:style-name="Latin">Talitrus</text:span>, the sand hopper.`,
    'Text_20_body',
  ),
  tp(
    `Turn it over ${annotation('c1', 'Maren Holt', 'Which stick?')}with a stick${annotation('c2', 'Ines Vega', 'Any.')}<office:annotation-end office:name="c1"/>; it <text:span text:style-name="T1">hops</text:span>${note('ftn1', 'footnote', '1', 'Third edition.')}.`,
  ),
  tp(
    `Bold throughout, <text:span text:style-name="T3">but here</text:span>, and <text:span text:style-name="T2">set apart <text:span text:style-name="Latin">within</text:span></text:span>.`,
    'P1',
  ),
  `<text:list xml:id="list1" text:style-name="L1"><text:list-header>${tp('Not to be forgotten:')}</text:list-header><text:list-item>${tp('boots')}</text:list-item><text:list-item text:start-value="7">${tp('a bucket')}${tp('with its lid')}` +
    `<text:list><text:list-item>${tp('a hand lens')}</text:list-item></text:list></text:list-item><text:list-item>${tp('a friend')}</text:list-item></text:list>`,
  tp(`Here it began${start('ct3')}.`, 'P2'),
  tp(`And went on${end('ct3')} as before.`),
  tp(`This is ${gone('ct4')} for the tide.`),
  table,
  tp(`${picture} and ${formula} and ${textBox}`),
  tp(
    'See page <text:page-number text:select-page="current">4</text:page-number>, <text:bookmark-start text:name="tides"/>the tides<text:bookmark-end text:name="tides"/> and <text:bookmark text:name="here"/><text:a xlink:type="simple" xlink:href="https://harrow.example/" text:style-name="Internet_20_link">the map</text:a>.',
  ),
  `<text:section text:style-name="Sect1" text:name="Box">${tp('In a section.')}`,
  `${tp('Still in it.')}</text:section>`,
  tp(`${start('ct5')}Looked otherwise${end('ct5')}, once.`),
  tp(`A list was cut short here ${gone('ct6')}.`),
  tp(
    `Kept <text:s text:c="2"/>spaces,<text:tab/>a tab and a<text:line-break/>line.${note('ftn2', 'endnote', 'i', 'Second print.')}<text:soft-page-break/>`,
  ),
  '<text:table-of-content text:style-name="Sect1" text:name="Contents"><text:table-of-content-source text:outline-level="10"/><text:index-body><text:p>The Wrack Line 1</text:p></text:index-body></text:table-of-content>',
  tp('The end.'),
];

const math =
  '<?xml version="1.0"?><math xmlns="http://www.w3.org/1998/Math/MathML"><mi>h</mi><mo>=</mo><mn>2</mn></math>';

export const odtHandout = odtOf(
  `<text:sequence-decls><text:sequence-decl text:display-outline-level="0" text:name="Figure"/></text:sequence-decls>`.replace(
    /^/,
    regions,
  ) + odtBlocks.join('\n'),
  {
    automatic,
    common,
    master:
      '<style:master-page style:name="Standard" style:page-layout-name="Mpm1"><style:header><text:p>Harrow Point School</text:p></style:header></style:master-page>',
    others: {
      'Pictures/hopper.png': pixel,
      'Object 1/content.xml': math,
      'meta.xml':
        '<?xml version="1.0"?><office:document-meta xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" office:version="1.3"/>',
      'Configurations2/kept.xml': '<kept/>',
    },
  },
);
