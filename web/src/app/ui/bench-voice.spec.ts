import { TestBed } from '@angular/core/testing';
import { BenchVoice } from './bench-voice.ts';

class FakeAudio {
  static readonly played: number[] = [];
  readonly currentTime = 0;
  readonly destination = {};
  createGain() {
    return { gain: { setValueAtTime: () => undefined, exponentialRampToValueAtTime: () => undefined }, connect: () => undefined };
  }
  createOscillator() {
    const frequency = { value: 0 };
    return { frequency, connect: (next: unknown) => next, start: () => FakeAudio.played.push(frequency.value), stop: () => undefined };
  }
}

function bench(voices: number): { voice: BenchVoice; said: string[] } {
  const said: string[] = [];
  FakeAudio.played.length = 0;
  const speechSynthesis = {
    getVoices: () => Array.from({ length: voices }),
    cancel: () => said.push('|'),
    speak: (u: { text: string }) => said.push(u.text),
  };
  class Utterance {
    lang = '';
    rate = 1;
    constructor(readonly text: string) {}
  }
  Object.assign(window, { AudioContext: FakeAudio, speechSynthesis, SpeechSynthesisUtterance: Utterance });
  return { voice: TestBed.inject(BenchVoice), said };
}

beforeEach(() => localStorage.removeItem('estuarine.voice'));

describe('the voice of the bench', () => {
  it('is silent until it is asked for', () => {
    const { voice, said } = bench(1);
    voice.tell('kept', '7.81');
    expect([voice.voice(), said, FakeAudio.played]).toEqual(['off', [], []]);
  });

  it('tells kept, apart and done by count and rise, and is kept as it was left', () => {
    const { voice } = bench(1);
    voice.cycle();
    FakeAudio.played.length = 0;
    for (const told of ['kept', 'apart', 'done'] as const) {
      voice.tell(told, '');
      FakeAudio.played.push(0);
    }
    const heard = FakeAudio.played.join(' ').split(' 0').map((t) => t.trim().split(' ').filter((x) => x !== '').map(Number)); // prettier-ignore
    expect(heard.map((t) => t.length).slice(0, 3)).toEqual([1, 2, 3]);
    expect((heard[1]?.[0] ?? 0) > (heard[1]?.[1] ?? 0)).toBe(true);
    expect((heard[2]?.[0] ?? 0) < (heard[2]?.[2] ?? 0)).toBe(true);
    expect(localStorage.getItem('estuarine.voice')).toBe('tones');
  });

  it('speaks where the browser has a voice, the newest word at once, else plays', () => {
    const { voice, said } = bench(1);
    voice.cycle();
    voice.cycle();
    said.length = 0;
    FakeAudio.played.length = 0;
    voice.tell('kept', '7.812, next 4');
    expect([said, FakeAudio.played]).toEqual([['|', '7.812, next 4'], []]);
  });

  it('plays tones in the stead of a voice that is not there', () => {
    const { voice, said } = bench(0);
    voice.cycle();
    voice.cycle();
    FakeAudio.played.length = 0;
    voice.tell('apart', 'stands apart');
    expect(said).toEqual([]);
    expect(FakeAudio.played).toHaveLength(2);
  });
});
