import pdfmake from 'pdfmake';
import type { Column, Content, TableCell } from 'pdfmake/interfaces';
import type { Certificate, CertificateSet, IssuedCertificate } from '../../core/certificate/certificate';
import { reviewWords, storedWords, verdictWords } from '../../core/certificate/certificate-words';
import { presentCertificate } from '../../core/certificate/version-1';
import { joined, resultTable } from './result-table';
import { brick, faces, ink, isFace, printed, rule, set, soft } from './type';

const margin = 48;
const width = 595.28 - 2 * margin;

pdfmake.setFonts(faces);
pdfmake.setLocalAccessPolicy(isFace);
pdfmake.setUrlAccessPolicy(() => false);

const line = (color: string, margins: [number, number, number, number]): Content => ({
  canvas: [{ type: 'line', x1: 0, y1: 0, x2: width, y2: 0, lineWidth: 0.6, lineColor: color }],
  margin: margins,
});

/** Changes against a replaced issue that are printed; all of them stand in the record. */
const mostChanges = 40;

type Facts = [label: string, value: string][];

const facts = (entries: Facts, of = width): Column => ({
  width: of / 3 - 8,
  stack: entries.flatMap(([label, value]) => [
    set(label, { fontSize: 7.5, color: soft }),
    set(value || '–', { fontSize: 9.5, margin: [0, 0, 0, 4] }),
  ]),
});

const thirds = (columns: Facts[], margins: [number, number, number, number], of = width): Content => ({
  columns: columns.map((c) => facts(c, of)),
  columnGap: 12,
  margin: margins,
});

/** A word and what is to be said of it; none is parted over two pages. */
const paragraphs = (entries: Facts): Content =>
  entries.length === 0
    ? []
    : {
        table: {
          widths: [104, '*'],
          dontBreakRows: true,
          body: entries.map(([title, text]): TableCell[] => [
            set(title, { bold: true, fontSize: 9 }) as TableCell,
            set(text, { fontSize: 9 }) as TableCell,
          ]),
        },
        layout: { defaultBorder: false, paddingLeft: (i: number) => (i ? 6 : 0), paddingTop: () => 0, paddingBottom: () => 4 },
      };

function headOf(c: Certificate): Content[] {
  const { instrument, measured } = c;
  const isNextStated = c.next.isStated !== false;
  return [
    {
      columns: [
        {
          width: 300,
          stack: [
            set(c.laboratory.name, { bold: true, fontSize: 11 }),
            set(c.laboratory.address, { fontSize: 9, color: soft, margin: [0, 1, 0, 0] }),
          ],
        },
        {
          width: '*',
          stack: [
            set('Calibration certificate', { fontSize: 9, color: soft, alignment: 'right' }),
            set(c.number, { isMono: true, fontSize: 16, alignment: 'right' }),
          ],
        },
      ],
    },
    line(ink, [0, 8, 0, 8]),
    thirds(
      [
        [
          [
            'Instrument',
            [instrument.identification, instrument.serialNumber && `serial number ${instrument.serialNumber}`]
              .filter(Boolean)
              .join(', '),
          ],
          ['Make', instrument.designation],
          ['Owner', [c.owner, c.ownerAddress].filter(Boolean).join(', ')],
        ],
        [
          ['Range', instrument.range],
          ...(instrument.usedRange === instrument.range ? [] : ([['Calibrated over', instrument.usedRange]] as Facts)),
          ['Resolution', instrument.resolution],
          ...instrument.details.map((d): Facts[number] => [d.title, d.value]),
        ],
        [
          ['Measured', measured.from === measured.to ? measured.from : `${measured.from} to ${measured.to}`],
          ...(c.received ? ([['Received', c.received]] as Facts) : []),
          ['Issued', c.issued],
          ...(isNextStated ? ([['Next calibration', c.next.date]] as Facts) : []),
          ...(c.place ? ([['Place of use', c.place]] as Facts) : []),
          ...c.procedure.choices.map((x): Facts[number] => [x.title, x.value]),
        ],
      ],
      [0, 0, 0, 4],
    ),
    line(rule, [0, 0, 0, 10]),
  ];
}

function resultsOf({ tables, asFound, asLeft, asLeftStatement, check }: Certificate): Content[] {
  const said = (s: CertificateSet) =>
    `${s.title}: ${s.verdict ? verdictWords(s.verdict) : 'not judged as a whole'}.${s.incomplete ? ` ${s.incomplete}` : ''}${s.skipped.map((k) => ` ${k.what} not measured: ${k.reason}.`).join('')}`;
  const printedTables = joined(tables).map((t) => resultTable(t, width));
  return [
    ...printedTables.flatMap((t) => t.content),
    {
      unbreakable: true,
      margin: [0, 0, 0, 8],
      stack: [
        ...(printedTables.some((t) => t.hasStrips)
          ? [
              set(
                'Hollow ring: as found. Filled dot: as left. The stem joins them; the whisker is U. Shaded: inside the limits.',
                {
                  fontSize: 7.5,
                  color: soft,
                  margin: [0, 0, 0, 5],
                },
              ),
            ]
          : []),
        ...[said(asFound), asLeft ? said(asLeft) : asLeftStatement, ...(check ? [said(check)] : [])].map((text) =>
          set(text, { bold: true, fontSize: 9.5 }),
        ),
      ],
    },
  ];
}

function wordsOf(c: Certificate): Facts {
  const held = (s: CertificateSet) => s.conditions.map((x) => `${x.title.toLowerCase()} ${x.value}`).join(', ');
  const conditions = [
    c.asFound.conditions.length && `As found: ${held(c.asFound)}.`,
    c.asLeft?.conditions.length && `As left: ${held(c.asLeft)}.`,
  ].filter(Boolean);
  return [
    ...c.standards.map((s): Facts[number] => [
      'Standard',
      `${[s.identification, s.designation].filter(Boolean).join(', ')}. Certificate ${s.certificate} of ${s.date}, ${s.issuer}${s.due ? `, due ${s.due}` : ''}. Results are traceable to the SI through this certificate.`,
    ]),
    ...(conditions.length
      ? ([
          [
            'Conditions',
            [...conditions, c.laboratory.conditionInstruments && `Read from: ${c.laboratory.conditionInstruments}`]
              .filter(Boolean)
              .join(' '),
          ],
        ] as Facts)
      : []),
    [
      'Procedure',
      `${c.procedure.title}, ${c.procedure.id} revision ${c.procedure.revision} (${c.procedure.sources.join('; ')}).`,
    ],
    ...c.adjustments.map((a): Facts[number] => {
      const stored = storedWords(a.stored);
      return ['Adjustment', `${a.title} on ${a.at}${stored ? `: ${printed(stored)}` : ''}.${a.note ? ` ${a.note}` : ''}`];
    }),
    ['Uncertainty', c.coverageStatement],
    ...(c.limitsFrom ? ([['Limits', c.limitsFrom]] as Facts) : []),
    ['Decision rule', c.decisionRule],
    ...(c.next.isStated !== false ? ([['Next date', `${c.next.date}: ${c.next.reason}`]] as Facts) : []),
    ...(c.replaces
      ? ([
          [
            'Replaces',
            [
              `${c.replaces.number} of ${c.replaces.issued}: ${c.replaces.reason}`,
              ...c.replaces.changes.slice(0, mostChanges).map((x) => `${x.what}: ${x.before} → ${x.after}`),
            ].join('\n'),
          ],
        ] as Facts)
      : []),
    ...(c.remarks.length ? ([['Remarks', c.remarks.join('\n')]] as Facts) : []),
  ];
}

/** What whoever holds it must know first; nothing where it stands as issued. */
const standing = ({ withdrawn, replacedBy, persons }: Certificate): string =>
  withdrawn
    ? `Withdrawn on ${withdrawn.on}: ${withdrawn.reason}`
    : replacedBy
      ? `Replaced by certificate ${replacedBy}`
      : persons.reviewedBy
        ? ''
        : 'Not yet reviewed';

/** What the code of the seal takes of a line: it is printed with modules of a point, a third of a millimetre. */
const codeWidth = 48;

/** Who signed, and beneath it the seal of the record, by which a reader can hold it against the database years later. */
const signedBy = (persons: Certificate['persons'], seal: string | null): Content => {
  const named = thirds(
    [
      [['Measured by', persons.measuredBy.join(', ')]],
      [['Finished by', persons.finishedBy]],
      [['Reviewed and signed by', reviewWords(persons, 'not reviewed yet')]],
    ],
    [0, 0, 0, 0],
    seal ? width - codeWidth : width,
  );
  if (!seal) return named;
  return {
    columns: [
      {
        width: '*',
        stack: [
          named,
          { text: [set('Seal of the record: ', { color: soft }), set(seal, { isMono: true })], fontSize: 7.5 },
        ] as Content[],
      },
      { qr: seal, fit: 60, eccLevel: 'M', width: codeWidth, alignment: 'right' },
    ],
  };
};

/**
 * The certificate as a PDF on A4, with its fonts embedded.
 * @param seal the head of the chain by which its record was sealed
 */
export async function certificatePdf(issued: IssuedCertificate, seal: string | null = null): Promise<Buffer> {
  const certificate = presentCertificate(issued);
  const { number, persons } = certificate;
  const words = wordsOf(certificate);
  const isWhole = standing(certificate) === '';
  return pdfmake
    .createPdf({
      pageSize: 'A4',
      pageMargins: [margin, margin, margin, 54],
      defaultStyle: { font: 'sans', fontSize: 8, color: ink, lineHeight: 1.05 },
      info: {
        title: `Calibration certificate ${number}`,
        author: certificate.laboratory.name,
        creationDate: new Date(`${certificate.issued}T12:00:00Z`),
      },
      header: () =>
        isWhole
          ? ''
          : set(standing(certificate), { bold: true, fontSize: 9, color: brick, alignment: 'center', margin: [0, 22, 0, 0] }),
      footer: (page, pages) =>
        set(`${number} · page ${page} of ${pages} · The results relate only to this item. To be copied only whole.`, {
          fontSize: 7.5,
          color: soft,
          alignment: 'center',
          margin: [0, 22, 0, 0],
        }),
      content: [
        ...headOf(certificate),
        ...resultsOf(certificate),
        paragraphs(words.slice(0, -1)),
        // The signatures never stand on a page alone: the last paragraph goes with them.
        {
          unbreakable: true,
          stack: [paragraphs(words.slice(-1)), line(rule, [0, 6, 0, 8]), signedBy(persons, seal)],
        },
      ],
    })
    .getBuffer();
}
