/** Whether bytes begin as a PSD or PSB file does. */
export const isPsd = (bytes: Uint8Array) =>
  bytes.length > 26 && bytes[0] === 0x38 && bytes[1] === 0x42 && bytes[2] === 0x50 && bytes[3] === 0x53;
