/** The text of a module's code: what the labels carry, a hand scanner types and the camera reads. */
export const LABEL_START = '#';
const CODE = /^#estuarine\/module\/([A-Za-z0-9][A-Za-z0-9._-]{0,63})$/;

export function writeModuleLabel(moduleId: string): string {
  return `${LABEL_START}estuarine/module/${moduleId}`;
}

/** The module's id, or null for any other code. */
export function readModuleLabel(text: string): string | null {
  return CODE.exec(text.trim())?.[1] ?? null;
}
