/** What is said of the chosen row as a whole: its section, where it begins, its swing, its cue lines, an easier way. */
import type { Foot, PhraseForm, RoutineView, RowView } from '../api/schema';
import { Choices } from '../ui/Choices';
import { Field } from '../ui/Field';
import { Pick } from '../ui/Pick';
import { changed, onPhrases, said } from './edits';
import { FIELD, SCHOOLS, type School } from './schools';
import type { Save } from './typing';

const FEET: readonly { value: Foot | null; text: string }[] = [
  { value: null, text: 'not said' },
  { value: 'left', text: 'the left' },
  { value: 'right', text: 'the right' },
  { value: 'both', text: 'both' },
];
const WALLS = [
  { value: null, text: 'not said' },
  ...[12, 1.5, 3, 4.5, 6, 7.5, 9, 10.5].map((value) => ({
    value,
    text: Number.isInteger(value) ? String(value) : `${Math.floor(value)}:30`,
  })),
];
const SWINGS = [
  { value: 0.5, text: 'straight' },
  { value: 0.6, text: 'a little swung' },
  { value: 0.666667, text: 'swung' },
  { value: 0.75, text: 'hard swung' },
];

type Props = {
  routine: RoutineView;
  row: RowView | undefined;
  school: School;
  onSchool: (school: School) => void;
  save: Save;
};

export function RowPanel({ routine, row, school, onSchool, save }: Props) {
  const phrase = row && routine.sheet.phrases?.[row.written - 1];
  if (!row || !phrase) return <p className="text-soft">Choose a row in the sheet.</p>;
  const change = (to: Partial<PhraseForm>) => save(onPhrases((p) => changed(p, row.written, to)));
  const words = (s: 'steps' | 'sounds' | 'lyrics') => row.cells.map((c) => c.mark[FIELD[s]]);
  return (
    <>
      {row.again && (
        <p className="text-sm text-soft">This is {row.again}: what is changed here changes there too.</p>
      )}
      <div className="grid grid-cols-[76px_1fr] items-baseline gap-x-2 gap-y-1.5 text-sm">
        <span className="text-soft">section</span>
        <Field
          key={`section ${row.number}`}
          label="section that begins here"
          placeholder="goes on with the one before"
          value={phrase.section}
          onKeep={(section) => change({ section: section.replaceAll(',', '') })}
        />
        <span className="text-soft">begins on</span>
        <span className="flex flex-wrap gap-x-5">
          <Pick
            label="the foot it begins on"
            value={phrase.weight ?? null}
            options={FEET}
            onChange={(weight) => change({ weight })}
          />
          <span>
            <span className="text-soft">to </span>
            <Pick
              label="the wall it begins to"
              value={phrase.facing ?? null}
              options={WALLS}
              onChange={(facing) => change({ facing })}
            />
            <span className="text-soft"> o’clock</span>
          </span>
        </span>
        <span className="text-soft">& lies</span>
        <span>
          <Pick label="swing" value={phrase.swing} options={SWINGS} onChange={(swing) => change({ swing })} />
          {routine.sheet.phrases?.some((p) => p.swing !== phrase.swing) && (
            <button
              type="button"
              className="act ml-4"
              onClick={() => save(onPhrases((ps) => ps.map((p) => ({ ...p, swing: phrase.swing }))))}
            >
              so in every row
            </button>
          )}
        </span>
        <span className="text-soft">easier way</span>
        <Field
          key={`easier ${row.number}`}
          label="easier way"
          placeholder="another line of the same counts, if there is one"
          value={phrase.easier?.line ?? ''}
          onKeep={(line) => change({ easier: line ? { line, marks: phrase.easier?.marks ?? [] } : null })}
        />
      </div>
      <Choices
        label="the sheet says"
        value={school}
        options={SCHOOLS.map((value) => ({ value, text: value }))}
        onChange={onSchool}
      />
      <div className="grid grid-cols-[76px_1fr] items-baseline gap-x-2 gap-y-1.5 text-sm">
        {(['steps', 'sounds', 'lyrics'] as const).map((s) => (
          <div key={`${s} ${row.number}`} className="contents">
            <span className="text-soft">{s}</span>
            <Field
              label={`${s} of the row`}
              placeholder="one for each count, with commas"
              value={words(s).some(Boolean) ? words(s).join(', ') : ''}
              onKeep={(text) =>
                save(
                  onPhrases((p) =>
                    said(
                      p,
                      row,
                      FIELD[s],
                      text.split(',').map((w) => w.trim()),
                    ),
                  ),
                )
              }
            />
          </div>
        ))}
      </div>
      {row.checkpoint && <p className="text-sm text-soft">The row {row.checkpoint}.</p>}
    </>
  );
}
