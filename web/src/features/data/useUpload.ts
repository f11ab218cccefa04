import { useMutation } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { answered, api } from '../../api/client';

/** The server reads no larger file. */
const FILE_AT_MOST = 64 * 1024 * 1024;

/** A table that is larger than what can be brought in. */
export class TooLarge extends Error {}

/** Sends a table and goes to where it gets its shape. */
export function useUpload() {
  const navigate = useNavigate();
  return useMutation({
    mutationFn: async ({ content, name }: { content: Blob; name: string }) => {
      if (content.size > FILE_AT_MOST) throw new TooLarge();
      return answered(
        api.POST('/api/data/files', {
          params: { query: { name: name.slice(-200) } },
          // The description knows bytes as a list of numbers.
          body: content as unknown as number[],
          bodySerializer: (body) => body,
          headers: { 'Content-Type': 'application/octet-stream' },
        }),
      );
    },
    onSuccess: ({ id }) => void navigate(`/data/files/${id}`),
  });
}
