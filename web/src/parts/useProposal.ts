import { useMutation } from '@tanstack/react-query';
import { api, reach, unwrap } from '../api/client';
import type { Answers, Design, PartKind } from '../api/types';
import { wholeDocumentOf } from '../workbench/draft';
import { useWorkbench } from '../workbench/WorkbenchContext';

interface Asked {
  /** Put into the brief first. */
  answers?: Answers;
  /** Parts that stay as they are. */
  keep?: PartKind[];
}

/** Parts a design has. */
export function partsOf(design: Design): PartKind[] {
  const all: [PartKind, unknown][] = [
    ['motor', design.motor],
    ['controller', design.controller],
    ['module', design.pack],
    ['charger', design.charger],
  ];
  return all.filter(([, part]) => part != null).map(([kind]) => kind);
}

/** Asks for a chain that does what the brief asks and makes it the active variant's, as one step that undo takes back. */
export function useProposal() {
  const { draft, active, editAll, say } = useWorkbench();
  return useMutation({
    mutationFn: ({ answers, keep }: Asked) =>
      reach(async () =>
        unwrap(
          await api.POST('/api/v1/match/proposal', {
            body: {
              document: wholeDocumentOf(draft, active),
              ...(answers ? { answers } : {}),
              ...(keep ? { keep } : {}),
            },
          }),
        ),
      ),
    onSuccess: ({ brief, proposal }, { answers, keep }) => {
      const places: [string, unknown][] = [];
      if (answers) places.push(['brief', brief]);
      if (proposal) {
        const own = (keep?.length ?? 0) > 0;
        places.push([`designs.${active.id}`, own ? { ...proposal.design, proposed: undefined } : proposal.design]);
      }
      editAll(places);
      if (!proposal) say('Nothing looked at does even a part of this; the chain stays as it is.');
      else if (proposal.meets === 'part')
        say('Nothing looked at does all of this; what is proposed does a part. The Match stage looks further.');
    },
    onError: (error) => {
      say(`Nothing was proposed: ${error.message}`);
    },
  });
}
