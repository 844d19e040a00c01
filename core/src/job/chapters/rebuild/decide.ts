/** What becomes of acts of putting together: a fastener is kept as it was tightened, a tool is a permit. */
import { findDue } from '../../../gear/due.ts';
import { localTime } from '../../../quantity/calendar.ts';
import { refuse, type Refusal } from '../../../result.ts';
import { findSlip, isTorqueWithin, showTorque } from '../../../torque/slips.ts';
import { judgeTools } from '../../../torque/tools.ts';
import type { DecideContext } from '../chapter.ts';
import type { Chapter } from '../table.ts';
import type { REBUILD } from './acts.ts';
import type { RebuildState } from './state.ts';

export const decideRebuild = {
  'torque.set': (slice, act, context) => {
    const { partId, toolId, setNewtonMetre } = act.body;
    const part = context.profile.parts.find((p) => p.id === partId);
    if (!part) return noPart(partId);
    const tool = context.findGear(toolId);
    if (tool?.kind !== 'torqueTool') return refuse('unknownName', `The shop has no torque tool "${toolId}".`, ['body', 'toolId']);
    const today = localTime(context.now, context.isolation.timeZone).date;
    const due = findDue(tool, context.gearPolicy, today);
    if (due.refusal !== null) return refuse('notPermitted', `${tool.label} does not count. ${due.refusal}`, ['body', 'toolId']);
    if (!part.torque) return { ...act, body: { ...act.body, toolLabel: tool.label } };
    const { newtonMetre: specNewtonMetre, tolerancePercent } = part.torque;
    const [judged] = judgeTools(specNewtonMetre, tolerancePercent, [{ ...tool, id: toolId }]);
    if (judged && !judged.suitable) return refuse('notPermitted', `${tool.label} does not suit. ${judged.reason}`, ['body', 'toolId']);
    if (!isTorqueWithin(specNewtonMetre, tolerancePercent, setNewtonMetre)) {
      const former = slice.settings.findLast((s) => s.toolId === toolId)?.setNewtonMetre ?? null;
      const slip = findSlip({ specNewtonMetre, tolerancePercent }, setNewtonMetre, former);
      const why = slip?.sentence ?? `${showTorque(specNewtonMetre)} is wanted, within ${tolerancePercent} %.`;
      return refuse('notPermitted', `Set to ${showTorque(setNewtonMetre)}. ${why}`, ['body', 'setNewtonMetre']);
    }
    return { ...act, body: { ...act.body, toolLabel: tool.label } };
  },
  'fastener.torqued': (_slice, { body }, context) => refuseSeat(body.partId, body.seat, context),
  'bars.readied': (_slice, { body }, { profile }) =>
    body.frame === null || profile.frames.some((f) => f.id === body.frame)
      ? null
      : refuse('unknownName', `The pack has no frame "${body.frame}".`, ['body', 'frame']),
  'sensors.sited': (_slice, { body }, { profile }) => {
    const i = body.sites.findIndex((s) => !profile.sensors.some((own) => own.id === s.sensorId) || s.place > profile.moduleCount);
    if (i < 0) return null;
    const { sensorId, place } = body.sites[i] ?? { sensorId: '', place: 0 };
    return place > profile.moduleCount
      ? refuse('impossible', `There is no place ${place}; the last is ${profile.moduleCount}.`, ['body', 'sites', i, 'place'])
      : refuse('unknownName', `The pack has no sensor "${sensorId}".`, ['body', 'sites', i, 'sensorId']);
  },
  'joints.surveyed': (_slice, { body }, { profile }) => {
    const i = body.joints.findIndex((j) => j.link >= profile.moduleCount);
    return i < 0 ? null : refuse('impossible', `There is no link ${body.joints[i]?.link}.`, ['body', 'joints', i, 'link']);
  },
  'half.measured': (_slice, { body }, { profile }) => {
    const most = 1.25 * body.to * profile.moduleType.maximumModuleVolt;
    if (body.to > profile.moduleCount) return refuse('impossible', `There is no place ${body.to}.`, ['body', 'to']);
    return Math.abs(body.volt) <= most
      ? null
      : refuse('impossible', `${body.volt} V is more than ${body.to} modules can stand at.`, ['body', 'volt']);
  },
  'paste.laid': (_slice, { body }, { profile }) =>
    body.to > profile.moduleCount ? refuse('impossible', `There is no place ${body.to}.`, ['body', 'to']) : null,
} satisfies Chapter<RebuildState, typeof REBUILD>['decide'];

function refuseSeat(partId: string, seat: number, { profile }: DecideContext): Refusal | null {
  const part = profile.parts.find((p) => p.id === partId);
  if (!part) return noPart(partId);
  return part.count !== null && seat > part.count
    ? refuse('unknownName', `There are ${part.count} of ${part.name}, no number ${seat}.`, ['body', 'seat'])
    : null;
}

function noPart(partId: string): Refusal {
  return refuse('unknownName', `The pack has no part "${partId}".`, ['body', 'partId']);
}
