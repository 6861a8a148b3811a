/** What stands beside the sheet in Count, one subject at a time. */
import { Tab, TabGroup, TabList, TabPanel, TabPanels } from '@headlessui/react';
import type { ReactNode } from 'react';

export const SUBJECTS = ['beat', 'count', 'row', 'clip', 'order', 'out'] as const;
export type Subject = (typeof SUBJECTS)[number];

const NAMES: Record<Subject, string> = {
  beat: 'the beat',
  count: 'this count',
  row: 'this row',
  clip: 'off the clip',
  order: 'the order',
  out: 'out and in',
};

type Props = { subject: Subject; onSubject: (subject: Subject) => void; panels: Record<Subject, ReactNode> };

export function Panel({ subject, onSubject, panels }: Props) {
  return (
    <TabGroup
      selectedIndex={SUBJECTS.indexOf(subject)}
      onChange={(i) => onSubject(SUBJECTS[i] ?? 'beat')}
      className="border-t border-hair pt-2.5"
    >
      <TabList className="flex flex-wrap gap-x-3 gap-y-1 pb-2.5 text-sm">
        {SUBJECTS.map((s) => (
          <Tab key={s} className="choice" aria-checked={s === subject}>
            {NAMES[s]}
          </Tab>
        ))}
      </TabList>
      <TabPanels>
        {SUBJECTS.map((s) => (
          <TabPanel key={s} className="flex flex-col gap-2.5">
            {panels[s]}
          </TabPanel>
        ))}
      </TabPanels>
    </TabGroup>
  );
}
