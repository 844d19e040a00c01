import { Injectable, signal } from '@angular/core';

export const VOICES = ['off', 'tones', 'speech'] as const;
/** How the bench answers without being looked at. */
export type Voice = (typeof VOICES)[number];

export const VOICE_NAMES: Record<Voice, string> = { off: 'Silent', tones: 'Tones', speech: 'Voice' };

/** What there is to hear: a reading that is kept, one that stands apart, the end of the sweep. */
export type Told = 'kept' | 'apart' | 'done';

/** Frequencies in hertz, one after another; told apart by count and by rise or fall, not by pitch alone. */
const TONES: Record<Told, readonly number[]> = { kept: [880], apart: [330, 247], done: [523, 659, 784] };
const TONE_SECOND = 0.09;
const GAP_SECOND = 0.05;
const LOUDNESS = 0.2;
const KEY = 'estuarine.voice';

/** Tones or the browser's own voice for sweeps; off until somebody asks for it, and as it was left on this device. */
@Injectable({ providedIn: 'root' })
export class BenchVoice {
  readonly #voice = signal<Voice>(VOICES.find((v) => v === localStorage.getItem(KEY)) ?? 'off');
  readonly voice = this.#voice.asReadonly();
  #audio: AudioContext | null = null;

  /** The next one of silent, tones and voice. */
  cycle(): void {
    const next = VOICES[(VOICES.indexOf(this.#voice()) + 1) % VOICES.length] ?? 'off';
    this.#voice.set(next);
    localStorage.setItem(KEY, next);
    this.tell('kept', VOICE_NAMES[next]);
  }

  /** @param words for the voice; where the browser has none the tones are played in its stead */
  tell(told: Told, words: string): void {
    if (this.#voice() === 'off') return;
    if (this.#voice() === 'speech' && this.#speak(words)) return;
    this.#play(TONES[told]);
  }

  #speak(words: string): boolean {
    const speech = 'speechSynthesis' in window ? window.speechSynthesis : null;
    if (!speech || speech.getVoices().length === 0) return false;
    // the newest word is the one that counts: nothing queues behind a quick hand
    speech.cancel();
    const utterance = new SpeechSynthesisUtterance(words);
    utterance.lang = 'en';
    utterance.rate = 1.15;
    speech.speak(utterance);
    return true;
  }

  #play(tones: readonly number[]): void {
    if (!('AudioContext' in window)) return;
    this.#audio ??= new AudioContext();
    const audio = this.#audio;
    tones.forEach((hertz, i) => {
      const from = audio.currentTime + i * (TONE_SECOND + GAP_SECOND);
      const [tone, gain] = [audio.createOscillator(), audio.createGain()];
      tone.frequency.value = hertz;
      gain.gain.setValueAtTime(LOUDNESS, from);
      // no click at the end
      gain.gain.exponentialRampToValueAtTime(0.001, from + TONE_SECOND);
      tone.connect(gain).connect(audio.destination);
      tone.start(from);
      tone.stop(from + TONE_SECOND);
    });
  }
}
