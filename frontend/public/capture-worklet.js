/* Of so much of what was heard, some 3 seconds, each channel's power is remembered. */
const REMEMBERS = 0.999;
/* So much more power another channel must have to be listened to instead. */
const LOUDER = 4;

/*
 * Runs in the audio thread: gathers the microphone's samples and hands them over as 16-bit PCM, 2048 at a time. Of several
 * channels the one with most sound in it counts (a microphone may be on the second); they are never added, as they may cancel.
 */
class Capture extends AudioWorkletProcessor {
  constructor() {
    super();
    this.block = new Int16Array(2048);
    this.filled = 0;
    this.powers = [];
    this.chosen = 0;
  }

  process(inputs) {
    const channels = inputs[0] || [];
    if (channels.length === 0) return true;
    const channel = channels.length === 1 ? channels[0] : this.loudest(channels);
    for (let place = 0; place < channel.length; place++) {
      const sample = Math.max(-1, Math.min(1, channel[place]));
      this.block[this.filled++] = Math.round(sample * 32767);
      if (this.filled === this.block.length) {
        this.port.postMessage(this.block.buffer, [this.block.buffer]);
        this.block = new Int16Array(2048);
        this.filled = 0;
      }
    }
    return true;
  }

  loudest(channels) {
    let first = 0;
    for (let at = 0; at < channels.length; at++) {
      let power = 0;
      let sum = 0;
      for (const sample of channels[at]) {
        power += sample * sample;
        sum += sample;
      }
      power -= (sum * sum) / channels[at].length;
      this.powers[at] = (this.powers[at] || 0) * REMEMBERS + power;
      if (this.powers[at] > this.powers[first]) first = at;
    }
    const chosen = this.chosen < channels.length ? this.powers[this.chosen] : -1;
    if (this.powers[first] > LOUDER * chosen) this.chosen = first;
    return channels[this.chosen];
  }
}

registerProcessor("capture", Capture);
