import { by, del, docxOf, ins, p, pixel, r } from './package.js';

/** A handout as a school might send it: with everything in it that files have and manuscripts mostly do not. */

const style = (type: string, id: string, name: string, rest = '', standard = '') =>
  `<w:style w:type="${type}" w:styleId="${id}"${standard && ' w:default="1"'}><w:name w:val="${name}"/>${rest}</w:style>`;

const styles =
  '<w:docDefaults><w:rPrDefault><w:rPr><w:rFonts w:ascii="Garamond"/><w:sz w:val="22"/><w:lang w:val="en-GB"/></w:rPr></w:rPrDefault></w:docDefaults>' +
  style('paragraph', 'Normal', 'Normal', '', 'default') +
  style('paragraph', 'Heading1', 'heading 1', '<w:basedOn w:val="Normal"/><w:rPr><w:b/><w:sz w:val="32"/></w:rPr>') +
  style('paragraph', 'Chapter', 'Chapter of the house', '<w:basedOn w:val="Heading1"/>') +
  style('paragraph', 'ListItem', 'List Item', '<w:basedOn w:val="Normal"/>') +
  style('character', 'Latin', 'Latin name', '<w:rPr><w:i/></w:rPr>') +
  style('character', 'Hyperlink', 'Hyperlink', '<w:rPr><w:color w:val="0563C1"/><w:u w:val="single"/></w:rPr>') +
  style('character', 'FootnoteReference', 'footnote reference', '<w:rPr><w:vertAlign w:val="superscript"/></w:rPr>') +
  style('table', 'Grid', 'Table Grid');

const level = (n: number, format: string, text: string, start = 1) =>
  `<w:lvl w:ilvl="${n}"><w:start w:val="${start}"/><w:numFmt w:val="${format}"/><w:lvlText w:val="${text}"/></w:lvl>`;
const numbering =
  `<w:abstractNum w:abstractNumId="4">${level(0, 'upperRoman', '%1.', 3)}${level(1, 'lowerLetter', '%2)')}</w:abstractNum>` +
  `<w:abstractNum w:abstractNumId="5">${level(0, 'bullet', '§')}</w:abstractNum>` +
  '<w:num w:numId="7"><w:abstractNumId w:val="4"/></w:num><w:num w:numId="8"><w:abstractNumId w:val="5"/></w:num>';
const item = (numId: number, ilvl = 0) =>
  `<w:pStyle w:val="ListItem"/><w:numPr><w:ilvl w:val="${ilvl}"/><w:numId w:val="${numId}"/></w:numPr><w:spacing w:after="60"/>`;

const note = (kind: 'foot' | 'end', id: number, content: string) =>
  `<w:${kind}note w:id="${id}">${p(`<w:r><w:rPr><w:rStyle w:val="FootnoteReference"/></w:rPr><w:${kind}noteRef/></w:r>${content}`, '<w:pStyle w:val="Normal"/><w:ind w:left="113"/>')}</w:${kind}note>`;
const rules = (kind: 'foot' | 'end') =>
  `<w:${kind}note w:type="separator" w:id="-1">${p('<w:r><w:separator/></w:r>')}</w:${kind}note>` +
  `<w:${kind}note w:type="continuationSeparator" w:id="0">${p('<w:r><w:continuationSeparator/></w:r>')}</w:${kind}note>`;
const reference = (kind: 'foot' | 'end', id: number) =>
  `<w:r><w:rPr><w:rStyle w:val="FootnoteReference"/></w:rPr><w:${kind}noteReference w:id="${id}"/></w:r>`;

const comment = (id: number, author: string, name: string, text: string) =>
  `<w:comment w:id="${id}" w:author="${author}" w:date="2026-11-03T08:00:00Z" w:initials="X"><w:p w14:paraId="${name}">${r(text)}</w:p></w:comment>`;

const picture =
  '<w:r><w:drawing><wp:inline distT="0" distB="0"><wp:extent cx="952500" cy="476250"/><wp:effectExtent l="0" t="0" r="0" b="0"/>' +
  '<wp:docPr id="41" name="Picture 1" descr="a sand hopper"/><a:graphic><a:graphicData uri="http://schemas.openxmlformats.org/drawingml/2006/picture">' +
  '<pic:pic><pic:nvPicPr><pic:cNvPr id="0" name="hopper.png"/><pic:cNvPicPr/></pic:nvPicPr><pic:blipFill><a:blip r:embed="rId-hopper-png"/><a:srcRect l="5000"/>' +
  '<a:stretch><a:fillRect/></a:stretch></pic:blipFill><pic:spPr><a:xfrm rot="60000"><a:off x="0" y="0"/><a:ext cx="952500" cy="476250"/></a:xfrm>' +
  '<a:prstGeom prst="rect"><a:avLst/></a:prstGeom></pic:spPr></pic:pic></a:graphicData></a:graphic></wp:inline></w:drawing></w:r>';

const textBox =
  '<w:r><mc:AlternateContent><mc:Choice Requires="wps"><w:drawing><wp:inline><wp:extent cx="100" cy="100"/><wp:docPr id="42" name="Box"/>' +
  '<a:graphic><a:graphicData uri="http://schemas.microsoft.com/office/word/2010/wordprocessingShape"><wps:wsp><wps:cNvSpPr txBox="1"/><wps:spPr/>' +
  `<wps:txbx><w:txbxContent>${p(r('Bring boots.'))}</w:txbxContent></wps:txbx><wps:bodyPr/></wps:wsp></a:graphicData></a:graphic></wp:inline></w:drawing></mc:Choice>` +
  `<mc:Fallback><w:pict><v:shape id="b"><v:textbox><w:txbxContent>${p(r('Bring boots.'))}</w:txbxContent></v:textbox></v:shape></w:pict></mc:Fallback></mc:AlternateContent></w:r>`;

const formula =
  '<m:oMath><m:r><m:t>h=2A</m:t></m:r><m:sSup><m:e><m:r><m:t>t</m:t></m:r></m:e><m:sup><m:r><m:t>2</m:t></m:r></m:sup></m:sSup></m:oMath>';

const fieldOf = (code: string, result: string) =>
  '<w:r><w:fldChar w:fldCharType="begin"/></w:r>' +
  `<w:r><w:instrText xml:space="preserve"> ${code} </w:instrText></w:r><w:r><w:fldChar w:fldCharType="separate"/></w:r>` +
  `${r(result, '<w:noProof/>')}<w:r><w:fldChar w:fldCharType="end"/></w:r>`;

const cell = (content: string, properties = '') =>
  `<w:tc><w:tcPr><w:tcW w:w="2400" w:type="dxa"/>${properties}</w:tcPr>${content}</w:tc>`;
const table =
  '<w:tbl><w:tblPr><w:tblStyle w:val="Grid"/><w:tblW w:w="0" w:type="auto"/><w:tblLook w:val="04A0"/></w:tblPr>' +
  '<w:tblGrid><w:gridCol w:w="2400"/><w:gridCol w:w="2400"/><w:gridCol w:w="2400"/></w:tblGrid>' +
  `<w:tr><w:trPr><w:cantSplit/><w:tblHeader/></w:trPr>${cell(p(r('Station')))}${cell(p(r('High water')), '<w:gridSpan w:val="2"/><w:shd w:val="clear" w:fill="E8E0D0"/>')}</w:tr>` +
  `<w:tr>${cell(p(r('Harrow Point')), '<w:vMerge w:val="restart"/>')}${cell(p(r('06:12')))}${cell(p(r('5.1 m')))}</w:tr>` +
  `<w:tr>${cell(p(''), '<w:vMerge/>')}${cell(p(r('18:40')))}${cell(p(r('4.9 m') + ins(60, r(' neap'))))}</w:tr></w:tbl>`;
const plainTable =
  '<w:tbl><w:tblPr><w:tblW w:w="5000" w:type="pct"/></w:tblPr><w:tblGrid><w:gridCol w:w="4000"/><w:gridCol w:w="4000"/></w:tblGrid>' +
  `<w:tr>${cell(p(r('Mon')))}${cell(p(r('low')))}</w:tr>` +
  `<w:tr><w:trPr><w:ins ${by(61, 'Tobias Oyelaran')}/></w:trPr>${cell(p(ins(62, r('Tue'), 'Tobias Oyelaran')))}${cell(p(ins(63, r('high'), 'Tobias Oyelaran')))}</w:tr></w:tbl>`;

const section =
  '<w:sectPr><w:headerReference w:type="default" r:id="rId-header"/><w:footerReference w:type="default" r:id="rId-footer"/><w:pgSz w:w="11906" w:h="16838"/><w:pgMar w:top="1134" w:right="1134" w:bottom="1134" w:left="1134" w:header="709" w:footer="709" w:gutter="0"/><w:cols w:num="2"/></w:sectPr>';

/** The blocks of its main text, each as it stands there. */
export const blocks: readonly string[] = [
  `<w:p w:rsidR="00AB12CD" w14:paraId="10000001"><w:pPr><w:pStyle w:val="Chapter"/><w:keepNext/></w:pPr><w:bookmarkStart w:id="1" w:name="wrack"/>${r('The Wrack Line')}<w:bookmarkEnd w:id="1"/></w:p>`,
  p(
    r('Look for ') +
      r('Talitrus', '<w:rStyle w:val="Latin"/>') +
      r(' under the ') +
      del(11, 'kelp') +
      ins(12, r('wrack')) +
      r('.'),
    '<w:spacing w:before="120"/><w:jc w:val="both"/>',
  ),
  p(
    `${r('It ')}<w:r><w:rPr><w:b/><w:rPrChange ${by(13, 'Ines Vega')}><w:rPr/></w:rPrChange></w:rPr><w:t>hops</w:t></w:r>${r(' when disturbed')}${reference('foot', 2)}${r(', says ')}` +
      `<w:hyperlink r:id="rLink1" w:history="1">${r('the guide', '<w:rStyle w:val="Hyperlink"/>')}</w:hyperlink>${r('.')}${reference('end', 2)}`,
    `<w:jc w:val="center"/><w:pPrChange ${by(14, 'Ines Vega')}><w:pPr><w:jc w:val="left"/></w:pPr></w:pPrChange>`,
  ),
  p(r('High water is ') + formula + r(', see page ') + fieldOf('PAGEREF wrack \\h', '4') + r('.')),
  p(
    `<w:commentRangeStart w:id="5"/>${r('Take a stick')}<w:commentRangeEnd w:id="5"/><w:r><w:commentReference w:id="5"/></w:r><w:r><w:commentReference w:id="6"/></w:r>${r(', never a spade.')}`,
  ),
  p(picture + r(' A hopper, life size.') + textBox, '<w:keepLines/>'),
  p(
    `<w:moveFromRangeStart w:id="21" w:name="move1" w:author="Ines Vega" w:date="2026-11-02T10:00:00Z"/><w:moveFrom ${by(22, 'Ines Vega')}>${r('Mind the tide. ')}</w:moveFrom><w:moveFromRangeEnd w:id="21"/>${r('Keep the path.')}`,
  ),
  p(
    `${r('Go in pairs. ')}<w:moveToRangeStart w:id="23" w:name="move1" w:author="Ines Vega" w:date="2026-11-02T10:00:00Z"/><w:moveTo ${by(24, 'Ines Vega')}>${r('Mind the tide. ')}</w:moveTo><w:moveToRangeEnd w:id="23"/>`,
  ),
  p(r('razor shells'), item(7)),
  p(r('whelks'), item(7, 1)),
  p(r('cuttlebone', '<w:caps/><w:color w:val="C00000"/><w:sz w:val="28"/><w:highlight w:val="yellow"/>'), item(8)),
  table,
  p(
    `<w:sdt><w:sdtPr><w:alias w:val="Name of the group"/><w:id w:val="77"/></w:sdtPr><w:sdtContent>${r('Group B')}</w:sdtContent></w:sdt>${r(' signs here.')}<w:r><w:br w:type="page"/></w:r>`,
  ),
  p(r('One section ends.'), section.replace('</w:sectPr>', '<w:vAlign w:val="top"/></w:sectPr>')),
  p(`${r('Split ')}${r('here')}`, `<w:rPr><w:ins ${by(30, 'Tobias Oyelaran')}/></w:rPr>`),
  p(r('and there.')),
  p(r('gone with its end'), `<w:rPr><w:b/><w:del ${by(31, 'Ines Vega')}/></w:rPr>`),
  p(r(' joined.')),
  plainTable,
  p(
    `${r('שלום', '<w:rtl/><w:lang w:val="he-IL"/>')}<w:r><w:sym w:font="Wingdings" w:char="F04A"/></w:r><w:r><w:tab/><w:t>x</w:t><w:noBreakHyphen/><w:t>y</w:t><w:softHyphen/></w:r><w:proofErr w:type="spellStart"/>`,
    '<w:bidi/>',
  ),
];

/** The whole file. */
export const handout = docxOf(`${blocks.join('')}${section}`, {
  parts: {
    styles,
    numbering,
    comments: comment(5, 'Maren Holt', '0A000001', 'Which stick?') + comment(6, 'Ines Vega', '0A000002', 'Any.'),
    commentsExtended:
      '<w15:commentEx w15:paraId="0A000001" w15:done="1"/><w15:commentEx w15:paraId="0A000002" w15:paraIdParent="0A000001" w15:done="1"/>',
    footnotes: rules('foot') + note('foot', 2, r(' After a sketch by ') + ins(71, r('the class')) + r('.')),
    endnotes: rules('end') + note('end', 2, r(' Third edition.')),
    header: p(r('Harrow Point School')),
    footer: p(fieldOf('PAGE', '1')),
    settings: '<w:zoom w:percent="110"/><w:trackRevisions/>',
  },
  media: { 'hopper.png': pixel },
  links: { rLink1: 'https://harrow.example/guide' },
  others: {
    'docProps/core.xml':
      '<?xml version="1.0"?><cp:coreProperties xmlns:cp="http://schemas.openxmlformats.org/package/2006/metadata/core-properties"/>',
    'customXml/item1.xml': '<school xmlns="urn:harrow">7b</school>',
    'word/theme/theme1.xml': '<a:theme xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" name="x"/>',
  },
});
