declare module "gltf-validator" {
  export function validateBytes(
    bytes: Uint8Array,
    options: { maxIssues: number },
  ): Promise<{
    issues: { messages: ReadonlyArray<{ severity: number; code: string; pointer?: string; message: string }> };
  }>;
}
