/** Routing plans: previewed and applied; the user's own remember their output numbers. */

import { useQuery } from '@tanstack/react-query';
import { create } from 'zustand';
import { type CardOf, type Edit, type KitState, post, put, type ValueOf } from '../../../api/calls';
import { useKit } from '../../../app/kit/kitStore';
import { useWrite } from '../../../app/kit/writes';
import { useShelf } from '../../../app/shelf/shelf';

export type PlanCard = CardOf<'plans'>;
export type Plan = ValueOf<'plans'>;
export type Rule = Plan['rules'][number];
export type Host = ValueOf<'hosts'>;

/** The plan looked at, the plan being edited, and the misfits of the one applied last. */
export const usePlanShown = create<{
  id: string | null;
  edited: string | null;
  applied: { kit: string; name: string; misfits: string[] } | null;
}>(() => ({ id: null, edited: null, applied: null }));

const asked = (card: PlanCard) => (card.ours ? (card.value as Plan) : card.id);

/** What a plan would do to the current kit. */
export function usePreview(card: PlanCard | undefined) {
  const kit = useKit((s) => s.kit) as KitState;
  return useQuery({
    queryKey: ['plan', kit.id, kit.version, card?.id, card?.value],
    queryFn: () => post('/api/kits/{kit_id}/plan-preview', { kit_id: kit.id }, { plan: asked(card as PlanCard) }),
    enabled: card !== undefined,
    retry: false,
  });
}

export function usePlans() {
  const shelf = useShelf('plans');
  /** Apply a plan; its misfits are kept for reading. */
  const applying = async (card: PlanCard) => {
    const { kit, edit } = useKit.getState();
    if (kit) {
      const shown = await post('/api/kits/{kit_id}/plan-preview', { kit_id: kit.id }, { plan: asked(card) });
      const plan: Edit = {
        kind: 'apply_plan',
        plan: card.ours ? shown.plan : card.id,
        called: card.ours ? card.name : '',
      };
      await edit(plan);
      usePlanShown.setState({ applied: { kit: kit.id, name: card.name, misfits: shown.misfits } });
      if (card.ours && shown.learned) {
        await put('/api/shelves/plans/{kept_id}', { kept_id: card.id }, shown.plan);
      }
    }
  };
  const { send: apply } = useWrite(applying, { changes: ['shelf'] });
  return { shelf, apply };
}

/** The number of a host's outputs, in words. */
export function outputsSaid(host: Host): string {
  return `${host.runs.map((run) => `${run.count} ${run.width}`).join(', ')} outputs`;
}

/** What a rule takes, in a few words. */
export function takesSaid(rule: Rule): string {
  const families = rule.families ?? [];
  const said = [
    ...(rule.pieces ?? []),
    ...(families.length > 8 ? ['any piece'] : families),
    ...(rule.gathers ?? []).map((kind) => `shared ${kind}`),
    ...(rule.buses ?? []).map((bus) => `bus ${bus}`),
  ].join(', ');
  const nth = rule.number ? `, the ${ordinal(rule.number)}` : '';
  const mics = rule.mics?.length ? `${said ? ', ' : ''}${rule.mics.join(' and ')} microphones` : '';
  return `${said}${nth}${mics}`;
}

function ordinal(number: number): string {
  const last = number % 10;
  if (last === 1 && number !== 11) return `${number}st`;
  if (last === 2 && number !== 12) return `${number}nd`;
  if (last === 3 && number !== 13) return `${number}rd`;
  return `${number}th`;
}

/** A rule moved to another position. */
export function movedTo<T>(list: readonly T[], from: number, to: number): T[] {
  const left = list.filter((_, place) => place !== from);
  left.splice(to, 0, list[from] as T);
  return left;
}
