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
const JUMP = 0.12;
/** Seconds of the clip by which clicks are given to the sound system early. */
const AHEAD = 0.2;

export class Player {
  playing = false;
  percent = 100;
  sound: Sound = 'lead';
  seconds = 0;
  loop: Stretch | null = null;
  beats: readonly Beat[] = [];
  #lines: Record<Side, Line> | null = null;
  #videos: Record<Side, HTMLVideoElement | null> = { lead: null, follow: null };
  #listeners = new Set<() => void>();
  #clicked = 0;
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
    video.onloadedmetadata = () => this.seek(this.seconds);
    if (side === 'lead') video.onended = () => this.#ended();
    this.#mute();
  }

  /** Both clips' counts; null leaves the leading clip alone. */
  lock(lines: Record<Side, Line> | null) {
    this.#lines = lines;
    if (!this.playing) this.seek(this.seconds);
  }

  seek(seconds: number) {
    const { lead, follow } = this.#videos;
    this.seconds = Math.max(0, Math.min(seconds, lead?.duration || seconds));
    this.#clicked = this.seconds;
    if (lead) lead.currentTime = this.seconds;
    if (follow) follow.currentTime = this.#within(follow, this.#following(this.seconds) ?? 0);
    this.#tell();
  }

  play() {
    const { lead } = this.#videos;
    if (!lead || this.playing) return;
    if (this.loop && (this.seconds < this.loop.from || this.seconds >= this.loop.to))
      this.seek(this.loop.from);
    else if (lead.ended) this.seek(0);
    this.playing = true;
    lead.playbackRate = this.percent / 100;
    lead.play().catch(() => this.pause());
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
    this.seconds = lead.currentTime;
    if (this.loop && this.seconds >= this.loop.to) this.seek(this.loop.from);
    if (follow) this.#keepUp(follow);
    this.#clicks();
    this.#tell();
    requestAnimationFrame(this.#tick);
  };

  #keepUp(follow: HTMLVideoElement) {
    const wanted = this.#following(this.seconds);
    if (wanted === null || wanted < 0 || wanted >= follow.duration) {
      follow.pause();
      return;
    }
    if (follow.paused) {
      follow.currentTime = wanted;
      follow.play().catch(() => {});
    }
    if (follow.seeking) return;
    const off = follow.currentTime - wanted;
    if (Math.abs(off) > JUMP) follow.currentTime = wanted;
    const soon = this.#following(this.seconds + 0.1) ?? wanted;
    const rate = (this.percent / 100) * ((soon - wanted) / 0.1) * (1 - 2 * off);
    follow.playbackRate = Math.max(0.1, Math.min(rate, 4));
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
    if (this.loop && this.playing) {
      this.seek(this.loop.from);
      this.#videos.lead?.play().catch(() => this.pause());
    } else this.pause();
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
