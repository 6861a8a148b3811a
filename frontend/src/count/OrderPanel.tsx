/** In which order the sections are danced, on how many walls, which variant, and whose step names they are. */
import { useState } from 'react';
import type { useEdits } from '../api/edits';
import { useDictionary } from '../api/queries';
import type { Danced, RoutineView, StepForm, Style } from '../api/schema';
import { Choices } from '../ui/Choices';
import { Field } from '../ui/Field';
import { Pick } from '../ui/Pick';
import { Trouble } from '../ui/Said';
import { useDraft } from './drafts';
import type { Save } from './typing';

const DANCED: readonly { value: Danced; text: string }[] = [
  { value: 'full', text: 'the full way' },
  { value: 'easier', text: 'the easier way' },
];
const WALLS = [null, 1, 2, 4, 8].map((value) => ({ value, text: value ? String(value) : 'not said' }));
const STYLES: readonly { value: Style | null; text: string }[] = [
  { value: null, text: 'any' },
  ...(['line', 'jazz', 'swing', 'tap', 'clogging', 'ballet', 'street'] as const).map((value) => ({
    value,
    text: value,
  })),
];

type Props = { routine: RoutineView; edits: ReturnType<typeof useEdits>; save: Save };

export function OrderPanel({ routine, edits, save }: Props) {
  const { sheet } = routine;
  return (
    <>
      <OrderField {...{ routine, edits, save }} />
      <InOneSentence {...{ routine, edits }} />
      <p className="text-sm text-soft">
        Sections: {routine.sections.join(', ')}. As in “A, A other side, tag, B, A cut 12, A with ending E, A
        x2”. A section begins where a row names it (this row).
      </p>
      {routine.order_said && <p className="text-sm">{routine.order_said}</p>}
      <div className="flex flex-wrap items-baseline gap-x-5 gap-y-1.5 text-sm">
        <span>
          <span className="text-soft">walls </span>
          <Pick
            label="walls"
            value={sheet.walls ?? null}
            options={WALLS}
            onChange={(walls) => save((s) => ({ ...s, walls }))}
          />
        </span>
        <span className="flex items-baseline gap-1.5">
          <span className="text-soft">you come in after</span>
          <Field
            label="counts after which you come in"
            className="w-12 text-center"
            value={String(sheet.enters ?? 0)}
            onKeep={(text) => save((s) => ({ ...s, enters: Math.max(0, Math.min(64, Number(text) || 0)) }))}
          />
          <span className="text-soft">counts</span>
        </span>
      </div>
      <Choices
        label="you dance"
        value={sheet.dances ?? 'full'}
        options={DANCED}
        onChange={(dances) => save((s) => ({ ...s, dances }))}
      />
      <div className="flex flex-wrap items-baseline gap-x-3 gap-y-1 text-sm">
        <span className="text-soft">count it</span>
        {([0.5, 2] as const).map((pace) => (
          <button
            key={pace}
            type="button"
            className="act"
            disabled={!routine.rows.length || !!sheet.order}
            onClick={() => edits.renumber.mutate({ pace })}
          >
            {pace < 1 ? 'half as fast, 1 2 as 1 &' : 'twice as fast, 1 & as 1 2'}
          </button>
        ))}
      </div>
      <Dictionary style={sheet.style ?? null} own={sheet.steps ?? []} save={save} />
    </>
  );
}

/** The order as it is typed; what can't be read stays as it was typed, with what is wrong. */
function OrderField({ routine, edits, save }: Props) {
  const [typed, type] = useDraft(`juxtakine order ${routine.id}`);
  const kept = routine.sheet.order ?? '';
  const keep = () => {
    if (typed === kept) type(null);
    else if (typed !== null)
      save(
        (s) => ({ ...s, order: typed.trim() }),
        undefined,
        () => type(null),
      );
  };
  return (
    <>
      <div className="grid grid-cols-[76px_1fr] items-baseline gap-x-2 text-sm">
        <span className="text-soft">danced</span>
        <input
          aria-label="order of the sections"
          className="min-w-0 py-0.5"
          placeholder={routine.sections.join(', ')}
          spellCheck={false}
          value={typed ?? kept}
          onChange={(e) => {
            edits.sheet.reset();
            type(e.target.value);
          }}
          onBlur={keep}
          onKeyDown={(e) => {
            if (e.key === 'Enter') e.currentTarget.blur();
            if (e.key === 'Escape') {
              edits.sheet.reset();
              type(null);
            }
          }}
        />
      </div>
      {typed !== null && edits.sheet.error && (
        <Trouble>{edits.sheet.error.message}. The order before it is kept.</Trouble>
      )}
    </>
  );
}

/** As dances are told: counts, walls, restarts and tags; it stays as it was typed until it can be read. */
function InOneSentence({ routine, edits }: Omit<Props, 'save'>) {
  const [typed, type] = useDraft(`juxtakine structure ${routine.id}`);
  const { structure } = edits;
  return (
    <form
      className="flex flex-col gap-1 text-sm"
      onSubmit={(e) => {
        e.preventDefault();
        if (typed) structure.mutate(typed, { onSuccess: () => type(null) });
      }}
    >
      <div className="grid grid-cols-[76px_1fr_auto] items-baseline gap-x-2">
        <span className="text-soft">or told as</span>
        <input
          aria-label="the structure in one sentence"
          className="min-w-0 py-0.5"
          placeholder="32 counts, 4 walls, restart on wall 3 after 16"
          spellCheck={false}
          value={typed ?? ''}
          onChange={(e) => {
            structure.reset();
            type(e.target.value || null);
          }}
        />
        <button type="submit" className="act" disabled={!typed || structure.isPending}>
          read it
        </button>
      </div>
      {structure.error && <Trouble>{structure.error.message}</Trouble>}
      {structure.data && !structure.error && <p role="status">{structure.data.said} Undo takes it back.</p>}
    </form>
  );
}

/** Every step name with what it is; the student’s own can be added. */
function Dictionary({ style, own, save }: { style: Style | null; own: readonly StepForm[]; save: Save }) {
  const [wanted, setWanted] = useState('');
  const dictionary = useDictionary().data ?? [];
  const fits = (names: readonly string[]) =>
    names.some((n) => n.toLowerCase().includes(wanted.toLowerCase()));
  const found = wanted ? dictionary.filter((s) => fits([s.name, ...s.aliases])).slice(0, 5) : [];
  const mine = own.filter((s) => !wanted || fits([s.name]));
  return (
    <>
      <div className="flex flex-wrap items-baseline gap-x-3 gap-y-1 border-t border-hair pt-2 text-sm">
        <b>Step names</b>
        <span className="text-soft">as in</span>
        <Pick
          label="style of the step names"
          value={style}
          options={STYLES}
          onChange={(to) => save((s) => ({ ...s, style: to }))}
        />
        <input
          aria-label="look up a step"
          className="min-w-0 flex-1 py-0.5"
          placeholder="look one up, or name a new one"
          value={wanted}
          onChange={(e) => setWanted(e.target.value)}
        />
      </div>
      <dl className="text-sm">
        {found.map((s) => (
          <div key={`${s.name} ${s.style}`} className="pb-1">
            <dt className="inline font-semibold">
              {s.name}
              {s.line && <span className="pl-2 font-normal text-soft">{s.line}</span>}
              {s.style && <span className="pl-2 font-normal text-soft">in {s.style}</span>}
            </dt>
            <dd className="inline pl-2">{s.what}</dd>
          </div>
        ))}
        {mine.map((s) => (
          <div key={s.name} className="flex flex-wrap items-baseline gap-x-2 pb-1">
            <dt className="font-semibold">{s.name}</dt>
            <dd className="flex flex-1 gap-2">
              <Field
                label={`counts of ${s.name}`}
                className="flex-1"
                placeholder="1s! side, &o! close, 2s touch"
                value={s.pattern ?? ''}
                onKeep={(pattern) =>
                  save((sheet) => ({
                    ...sheet,
                    steps: (sheet.steps ?? []).map((o) => (o.name === s.name ? { ...o, pattern } : o)),
                  }))
                }
              />
              <button
                type="button"
                className="act"
                onClick={() =>
                  save((sheet) => ({ ...sheet, steps: (sheet.steps ?? []).filter((o) => o.name !== s.name) }))
                }
              >
                forget it
              </button>
            </dd>
          </div>
        ))}
      </dl>
      {wanted && !fitsExactly(wanted, [...dictionary, ...own]) && (
        <button
          type="button"
          className="act self-start text-sm"
          onClick={() => {
            save((s) => ({
              ...s,
              steps: [...(s.steps ?? []), { name: wanted.trim(), what: '', pattern: '' }],
            }));
          }}
        >
          “{wanted}” is a step of mine
        </button>
      )}
      {mine.length > 0 && (
        <p className="text-[13px] text-soft">
          Its counts: s is the foot that it begins on, o the other, b both, - none; ! takes the weight; &gt;2
          turns a quarter towards that foot.
        </p>
      )}
    </>
  );
}

const fitsExactly = (wanted: string, steps: readonly { name: string }[]) =>
  steps.some((s) => s.name.toLowerCase() === wanted.trim().toLowerCase());
