export function kernels(options?: { anew?: boolean }): Promise<void>;
