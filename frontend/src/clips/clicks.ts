/** Counted clicks: which are due, and their sound. The first of a row is higher. */
export type Beat = { seconds: number; first: boolean };

export const due = (beats: readonly Beat[], from: number, to: number) =>
  beats.filter((b) => b.seconds >= from && b.seconds < to);

/** Plays a click after so many seconds of the room's own time. */
export function clicker(): (beat: Beat, after: number) => void {
  let context: AudioContext | undefined;
  return (beat, after) => {
    context ??= new AudioContext();
    const at = context.currentTime + Math.max(0, after);
    const tone = new OscillatorNode(context, { frequency: beat.first ? 1760 : 1175 });
    const loudness = new GainNode(context, { gain: 0 });
    loudness.gain.setValueAtTime(0.35, at);
    loudness.gain.exponentialRampToValueAtTime(0.001, at + 0.05);
    tone.connect(loudness).connect(context.destination);
    tone.start(at);
    tone.stop(at + 0.06);
  };
}
