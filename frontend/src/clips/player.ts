/**
 * Two clips locked together by count: the instructor's leads, the take is kept at the same count by both clips' lines.
 * One clip alone plays as well. No framework here; components subscribe and draw.
 */
import { type Beat, clicker, due } from './clicks';
import { atOf, type Line, secondsOf } from './line';

export type Side = 'lead' | 'follow';
export type Sound = Side | 'none';
/** Seconds of the leading clip. */
export type Stretch = { from: number; to: number };

/** Seconds: beyond this the take is put right by a jump, below it by a little more or less speed. */
const JUMP = 0.4;
/** Seconds by which one clip may be ahead; then it waits: a busy machine holds up now the one and now the other. */
const WAIT = 0.1;
/** Share of its speed by which the take is hurried or held back for each second that it is off. */
const PULL = 2;
/** Changes of speed below this share are not worth making. */
const STEADY = 0.03;
/** Seconds within which two places in a clip are one. */
const SAME = 0.0005;
/** Milliseconds after which a seek is not waited for any more. */
const SEEK = 1500;
/** Seconds of the clip by which clicks are given to the sound system early. */
const AHEAD = 0.2;

export class Player {
  playing = false;
  percent = 100;
  sound: Sound = 'lead';
  seconds = 0;
  /** Seconds by which the take is shown after the lines' count, while both stand. */
  after = 0;
  loop: Stretch | null = null;
  beats: readonly Beat[] = [];
  #lines: Record<Side, Line> | null = null;
  #videos: Record<Side, HTMLVideoElement | null> = { lead: null, follow: null };
  #listeners = new Set<() => void>();
  #clicked = 0;
  #jumping = false;
  /** The leading clip was stopped until the other comes along. */
  #waits = false;
  #click = clicker();

  subscribe = (listener: () => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  /** A video element comes or goes. */
  attach(side: Side, video: HTMLVideoElement | null) {
    this.#videos[side] = video;
    if (!video) {
      if (side === 'lead') this.pause();
      return;
    }
    video.preservesPitch = true;
    video.onloadedmetadata = () => this.seek(this.seconds, this.after);
    if (side === 'lead') video.onended = () => this.#ended();
    this.#mute();
  }

  /** Both clips' counts; null leaves the leading clip alone. */
  lock(lines: Record<Side, Line> | null) {
    this.#lines = lines;
    if (!this.playing) this.seek(this.seconds, this.after);
  }

  /** Where the leading clip is at this very moment; `seconds` is where it was when it was last drawn. */
  get exactly(): number {
    return this.#videos.lead?.currentTime ?? this.seconds;
  }

  seek(seconds: number, after = 0) {
    const { lead, follow } = this.#videos;
    this.seconds = Math.max(0, Math.min(seconds, lead?.duration || seconds));
    this.after = after;
    this.#clicked = this.seconds;
    if (lead) send(lead, this.seconds);
    if (follow) send(follow, this.#within(follow, (this.#following(this.seconds) ?? 0) + after));
    this.#tell();
  }

  play() {
    const { lead } = this.#videos;
    if (!lead || this.playing) return;
    this.playing = true;
    const outside = this.loop && (this.seconds < this.loop.from || this.seconds >= this.loop.to);
    if (this.loop && outside) this.#jump(this.loop.from);
    else if (lead.ended) this.#jump(0);
    else if (this.after) this.#jump(this.seconds);
    else this.#start();
    this.#tell();
    requestAnimationFrame(this.#tick);
  }

  pause() {
    if (!this.playing) return;
    this.playing = false;
    for (const video of Object.values(this.#videos)) video?.pause();
    this.seek(this.#videos.lead?.currentTime ?? this.seconds);
  }

  toggle() {
    if (this.playing) this.pause();
    else this.play();
  }

  /** So many frames on or back, standing. */
  frame(by: number, fps: number) {
    this.pause();
    this.seek(this.seconds + by / fps, this.after);
  }

  setPercent(percent: number) {
    this.percent = percent;
    if (this.#videos.lead) this.#videos.lead.playbackRate = percent / 100;
    this.#tell();
  }

  setSound(sound: Sound) {
    this.sound = sound;
    this.#mute();
    this.#tell();
  }

  setLoop(loop: Stretch | null) {
    this.loop = loop;
    this.#tell();
  }

  #tick = () => {
    const { lead, follow } = this.#videos;
    if (!this.playing || !lead) return;
    requestAnimationFrame(this.#tick);
    if (this.#jumping) return;
    // a key of the machine's, or headphones that were pulled out
    if (lead.paused && !lead.ended && !this.#waits) return this.pause();
    this.seconds = lead.currentTime;
    if (this.loop && this.seconds >= this.loop.to) this.#jump(this.loop.from);
    else {
      if (follow) this.#keepUp(lead, follow);
      this.#clicks();
    }
    this.#tell();
  };

  /** Both go there, wait for each other, and begin together. */
  async #jump(seconds: number) {
    const videos = [this.#videos.lead, this.#videos.follow].filter((v) => v !== null);
    this.#jumping = true;
    for (const video of videos) video.pause();
    this.seek(seconds);
    await Promise.all(videos.map(arrived));
    this.#jumping = false;
    if (this.playing) this.#start();
  }

  #start() {
    const { lead, follow } = this.#videos;
    if (!lead) return;
    lead.playbackRate = this.percent / 100;
    this.#wait(lead, false);
    if (follow) this.#keepUp(lead, follow);
  }

  #keepUp(lead: HTMLVideoElement, follow: HTMLVideoElement) {
    const wanted = this.#following(this.seconds);
    const there = wanted !== null && wanted >= 0 && wanted < follow.duration && !follow.error;
    if (!there) {
      follow.pause();
      if (this.#waits) this.#wait(lead, false);
      return;
    }
    if (follow.seeking) return;
    const off = follow.currentTime - wanted;
    if (Math.abs(off) > JUMP) {
      this.#jump(this.seconds);
      return;
    }
    if (this.#waits !== off < -WAIT) this.#wait(lead, !this.#waits);
    if (off > WAIT) follow.pause();
    else if (follow.paused) follow.play().catch(() => {});
    const soon = this.#following(this.seconds + 0.1) ?? wanted;
    const pull = Math.max(-0.3, Math.min(PULL * off, 0.3));
    const rate = (this.percent / 100) * ((soon - wanted) / 0.1) * (1 - pull);
    // each change costs the browser a moment, in which the take would fall behind again
    if (Math.abs(rate / follow.playbackRate - 1) > STEADY)
      follow.playbackRate = Math.max(0.1, Math.min(rate, 4));
  }

  #wait(lead: HTMLVideoElement, waits: boolean) {
    this.#waits = waits;
    if (waits) lead.pause();
    else lead.play().catch((refused: DOMException) => refused.name !== 'AbortError' && this.pause());
  }

  #following(seconds: number): number | null {
    return this.#lines && secondsOf(this.#lines.follow, atOf(this.#lines.lead, seconds));
  }

  #within(video: HTMLVideoElement, seconds: number) {
    return Math.max(0, Math.min(seconds, video.duration || seconds));
  }

  #clicks() {
    const until = this.seconds + AHEAD;
    const speed = this.percent / 100;
    for (const beat of due(this.beats, this.#clicked, until))
      if (!this.loop || beat.seconds < this.loop.to) this.#click(beat, (beat.seconds - this.seconds) / speed);
    this.#clicked = Math.max(this.#clicked, until);
  }

  #ended() {
    if (this.loop && this.playing) this.#jump(this.loop.from);
    else this.pause();
  }

  #mute() {
    for (const side of ['lead', 'follow'] as const) {
      const video = this.#videos[side];
      if (video) video.muted = this.sound !== side;
    }
  }

  #tell() {
    for (const listener of this.#listeners) listener();
  }
}

/** Decoding again what is shown already would only cost time. */
function send(video: HTMLVideoElement, seconds: number) {
  if (Math.abs(video.currentTime - seconds) > SAME || video.readyState === 0) video.currentTime = seconds;
}

/** Once the video stands where it was sent. */
const arrived = (video: HTMLVideoElement) =>
  new Promise<void>((done) => {
    if (!video.seeking) return done();
    video.addEventListener('seeked', () => done(), { once: true });
    setTimeout(done, SEEK);
  });
