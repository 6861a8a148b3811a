/** What is said of the chosen count: its cue in three schools, its layers, foot, weight and turn, and how it is scored. */
import type { DoneForm, Foot, Layer, Quality, Score, SheetForm } from '../api/schema';
import type { Place } from '../sheet/choosing';
import { Field } from '../ui/Field';
import { Pick } from '../ui/Pick';
import { Tick } from '../ui/Tick';
import { asWritten, type Change, markedThere, overrideOf, scoredAlike, scoredThrough } from './edits';
import type { Save } from './typing';

const LAYERS = ['feet', 'body', 'arms', 'head'] as const satisfies readonly Layer[];
const FEET: readonly { value: Foot | null; text: string }[] = [
  { value: null, text: 'not said' },
  { value: 'left', text: 'left' },
  { value: 'right', text: 'right' },
  { value: 'both', text: 'both' },
];
const WEIGHTS = FEET.map((f) => (f.value ? f : { value: null, text: 'stays' }));
const QUALITIES: readonly { value: Quality | null; text: string }[] = [
  { value: null, text: 'any way' },
  { value: 'sharp', text: 'sharp' },
  { value: 'slow', text: 'slow' },
  { value: 'bounced', text: 'bounced' },
  { value: 'light', text: 'light' },
];
const SIZES: readonly [number, string][] = [
  [1, 'an eighth'],
  [2, 'a quarter'],
  [3, 'three eighths'],
  [4, 'a half'],
  [6, 'three quarters'],
  [8, 'a full turn'],
];
const TURNS = [
  { value: 0, text: 'none' },
  ...SIZES.map(([value, text]) => ({ value, text: `${text}, over the right` })),
  ...SIZES.map(([value, text]) => ({ value: -value, text: `${text}, over the left` })),
];
const SCORES: readonly { value: Score; text: string }[] = [
  { value: 'both', text: 'timing and position' },
  { value: 'timing', text: 'timing only' },
  { value: 'position', text: 'position only' },
  { value: 'own-pace', text: 'position, at your own pace' },
  { value: 'free', text: 'free' },
];

type Props = { place: Place | null; sheet: SheetForm; save: Save; busy: boolean };

export function CountPanel({ place, sheet, save, busy }: Props) {
  if (!place)
    return <p className="text-soft">Choose a count in the sheet: what is done there is written here.</p>;
  const { row, cell } = place;
  const { mark } = cell;
  const change = (to: Change) => save((s) => markedThere(s, row, cell, to));
  const layer = (name: Layer, to: Partial<DoneForm>) =>
    change((now) => {
      const done = { cue: '', quality: null, ...now.layers[name], ...to };
      const { [name]: _, ...rest } = now.layers;
      return { layers: done.cue || done.quality ? { ...rest, [name]: done } : rest };
    });
  const part = (name: Layer, on: boolean) =>
    change((now) => {
      const meant = now.parts.length ? now.parts : LAYERS;
      return { parts: LAYERS.filter((l) => (l === name ? on : meant.includes(l))) };
    });
  const plain = mark.score === 'both' && !mark.either;
  const alike = scoredAlike(row, cell);
  const on = row.cells.slice(row.cells.indexOf(cell));
  return (
    <>
      <div className="flex items-baseline gap-3">
        <b className="text-[26px] leading-none">{cell.label}</b>
        <span className="text-soft">
          of {row.name || `row ${row.number}`}
          {row.again && `, danced again as ${row.again}`}
        </span>
      </div>
      {row.again && (
        <p className="text-sm text-soft">
          What is changed here holds for this time alone.{' '}
          {overrideOf(sheet, row, cell.label) && (
            <button type="button" className="act" onClick={() => save((s) => asWritten(s, row, cell.label))}>
              as it is written in row {row.written}
            </button>
          )}
        </p>
      )}
      <div className="grid grid-cols-[64px_1fr_96px] items-baseline gap-x-2 gap-y-1.5 text-sm">
        <span className="text-soft">step</span>
        <Field
          key={`cue ${row.number} ${cell.label}`}
          label="step"
          className="col-span-2"
          value={mark.cue}
          onKeep={(cue) => change({ cue })}
        />
        <span className="text-soft">sound</span>
        <Field
          key={`sounds ${row.number} ${cell.label}`}
          label="sound"
          className="col-span-2"
          value={mark.sounds}
          onKeep={(sounds) => change({ sounds })}
        />
        <span className="text-soft">lyric</span>
        <Field
          key={`lyrics ${row.number} ${cell.label}`}
          label="lyric"
          className="col-span-2"
          value={mark.lyrics}
          onKeep={(lyrics) => change({ lyrics })}
        />
        {LAYERS.map((name) => (
          <div key={`${name} ${row.number} ${cell.label}`} className="contents">
            <span className="text-soft">{name}</span>
            <Field label={name} value={mark.layers[name]?.cue ?? ''} onKeep={(cue) => layer(name, { cue })} />
            <Pick
              label={`how the ${name} move`}
              value={mark.layers[name]?.quality ?? null}
              options={QUALITIES}
              onChange={(quality) => layer(name, { quality })}
            />
          </div>
        ))}
      </div>
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1.5 text-sm">
        <span>
          <span className="text-soft">foot </span>
          <Pick
            label="which foot"
            value={mark.foot ?? null}
            options={FEET}
            onChange={(foot) => change({ foot })}
          />
        </span>
        <span>
          <span className="text-soft">weight after </span>
          <Pick
            label="weight after it"
            value={mark.weight ?? null}
            options={WEIGHTS}
            onChange={(weight) => change({ weight })}
          />
        </span>
        <span>
          <span className="text-soft">turn </span>
          <Pick label="turn" value={mark.turn} options={TURNS} onChange={(turn) => change({ turn })} />
        </span>
      </div>
      <div className="flex flex-wrap items-baseline gap-x-3 gap-y-1.5 text-sm">
        <span>
          <span className="text-soft">scored </span>
          <Pick
            label="how it is scored"
            value={mark.score}
            options={SCORES}
            onChange={(score) => change(score === 'both' ? { score, parts: [] } : { score })}
          />
        </span>
        {mark.score !== 'both' &&
          LAYERS.map((name) => (
            <Tick
              key={`${name} ${row.number} ${cell.label}`}
              checked={!mark.parts.length || mark.parts.includes(name)}
              busy={busy}
              onTick={(on) => part(name, on)}
            >
              {name}
            </Tick>
          ))}
        <Tick
          key={`either ${row.number} ${cell.label}`}
          checked={mark.either}
          busy={busy}
          onTick={(either) => change({ either })}
        >
          either style: as in any of the clips
        </Tick>
        {!plain && on.length > 1 && (
          <span>
            <span className="text-soft">so through </span>
            <Pick
              label="scored so through"
              value={alike.at(-1)?.label ?? cell.label}
              options={on.map((c) => ({ value: c.label, text: c === cell ? 'this count alone' : c.label }))}
              onChange={(last) => save((s) => scoredThrough(s, row, cell, last))}
            />
          </span>
        )}
      </div>
    </>
  );
}
