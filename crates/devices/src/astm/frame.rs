//! The low-level protocol: ENQ opens, numbered frames with a checksum carry text, EOT closes.
//!
//! `<STX> FN text <ETB or ETX> C1 C2 <CR> <LF>`: FN counts 1 to 7, then 0, and again; C1 C2 is the
//! sum of all bytes from FN to ETB or ETX, modulo 256, in hexadecimal. Source: ASTM E1381.

use quality::device::Reason;

pub const STX: u8 = 0x02;
pub const ETX: u8 = 0x03;
pub const EOT: u8 = 0x04;
pub const ENQ: u8 = 0x05;
pub const ACK: u8 = 0x06;
pub const NAK: u8 = 0x15;
pub const ETB: u8 = 0x17;
const CR: u8 = b'\r';
const LF: u8 = b'\n';

/// Longest text of a frame; the standard allows 240, later editions 63,993.
const TEXT_AT_MOST: usize = 64_000;

/// What a byte completes.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Event {
    /// The sender asks to send.
    Enquiry,
    /// A good frame with the next number; [`Receiver::accept`] counts it.
    Frame(Vec<u8>),
    /// The frame before once more: its acknowledgement was lost.
    Again,
    /// A frame that cannot be taken, and why.
    Broken(Reason),
    /// A frame ended in the middle and another began; the sender waits for no answer.
    CutOff,
    /// The sender has ended.
    End,
    /// Bytes that belong to nothing, told once.
    Noise,
}

#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum State {
    /// Nothing was opened; `true` once noise was told.
    Neutral { noisy: bool },
    /// Opened; between frames.
    Between,
    /// In a frame, so many bytes of its tail read: checksum, CR, LF.
    Frame { tail: usize },
}

/// The receiving side.
#[derive(Debug, Clone)]
pub struct Receiver {
    state: State,
    /// Number of the frame that was accepted last.
    last: u8,
    /// The frame from its number on, its tail included.
    frame: Vec<u8>,
}

impl Default for Receiver {
    fn default() -> Self {
        Self { state: State::Neutral { noisy: false }, last: 0, frame: Vec::new() }
    }
}

/// Digits of the checksum, CR and LF.
const TAIL: usize = 4;

impl Receiver {
    /// Whether a sender has opened and not closed.
    pub fn is_open(&self) -> bool {
        !matches!(self.state, State::Neutral { .. })
    }

    /// What `byte` completes, if anything.
    pub fn take(&mut self, byte: u8) -> Option<Event> {
        match (self.state, byte) {
            // A sender that has started anew is heard, whatever it left behind.
            (State::Neutral { .. } | State::Between, ENQ) => {
                *self = Self { state: State::Between, last: 0, frame: Vec::new() };
                Some(Event::Enquiry)
            }
            (State::Neutral { noisy: false }, byte) if byte != EOT && byte != CR && byte != LF => {
                self.state = State::Neutral { noisy: true };
                Some(Event::Noise)
            }
            (State::Neutral { .. }, _) => None,
            (State::Between, STX) => {
                self.frame.clear();
                self.state = State::Frame { tail: 0 };
                None
            }
            (State::Between, EOT) => {
                self.state = State::Neutral { noisy: false };
                Some(Event::End)
            }
            (State::Between, _) => None,
            (State::Frame { tail }, byte) => self.in_frame(tail, byte),
        }
    }

    fn in_frame(&mut self, tail: usize, byte: u8) -> Option<Event> {
        if tail == 0 && self.frame.len() > TEXT_AT_MOST {
            self.state = State::Between;
            return Some(Event::Broken(Reason::FrameTooLong));
        }
        // A frame that was cut off is followed by whatever its sender begins with.
        if tail == 0 && matches!(byte, STX | ENQ | EOT) {
            self.state = State::Between;
            let begun = self.take(byte);
            return begun.or(Some(Event::CutOff));
        }
        self.frame.push(byte);
        let tail = match (tail, byte) {
            (0, ETB | ETX) => 1,
            (0, _) => 0,
            (tail, _) => tail + 1,
        };
        self.state = State::Frame { tail };
        if tail <= TAIL {
            return None;
        }
        self.state = State::Between;
        Some(self.complete())
    }

    fn complete(&self) -> Event {
        let (body, tail) = self.frame.split_at(self.frame.len() - TAIL);
        let told = std::str::from_utf8(&tail[..2]).ok().and_then(|digits| u8::from_str_radix(digits, 16).ok());
        if told != Some(checksum(body)) || tail[2..] != [CR, LF] {
            return Event::Broken(Reason::Checksum);
        }
        match body {
            [number @ b'0'..=b'7', text @ .., ETB | ETX] if number - b'0' == (self.last + 1) % 8 => {
                Event::Frame(text.to_vec())
            }
            [number @ b'0'..=b'7', .., ETB | ETX] if number - b'0' == self.last && self.last > 0 => Event::Again,
            _ => Event::Broken(Reason::FrameNumber),
        }
    }

    /// Counts the frame that was just taken.
    pub fn accept(&mut self) {
        self.last = (self.last + 1) % 8;
    }
}

/// The sum of the bytes modulo 256.
pub fn checksum(body: &[u8]) -> u8 {
    body.iter().fold(0, |sum: u8, byte| sum.wrapping_add(*byte))
}

/// Longest text that a sender puts in one frame.
const TEXT_SENT_AT_MOST: usize = 240;

/// Frames of some records, numbered from 1; a record ends in CR.
pub fn frames(records: &[String]) -> Vec<Vec<u8>> {
    let mut frames = Vec::new();
    for record in records {
        let text = [record.as_bytes(), &[CR]].concat();
        let parts: Vec<&[u8]> = text.chunks(TEXT_SENT_AT_MOST).collect();
        for (i, part) in parts.iter().enumerate() {
            let number = b'0' + ((frames.len() + 1) % 8) as u8;
            let end = if i + 1 == parts.len() { ETX } else { ETB };
            let body = [&[number], *part, &[end]].concat();
            let sum = format!("{:02X}", checksum(&body));
            frames.push([&[STX], &body[..], sum.as_bytes(), &[CR, LF]].concat());
        }
    }
    frames
}
