import { at } from '../kit/place';
import { useQueryClient } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { FileButton } from '../kit/FileButton';

/** Takes in a recipe file, as the next revision of its line. */
export function TakeIn() {
  const queries = useQueryClient();
  const navigate = useNavigate();
  return (
    <FileButton
      label="Take in a recipe file"
      address={at('/api/recipes')}
      onTaken={async ({ id }) => {
        await queries.invalidateQueries({ queryKey: ['recipes'] });
        await navigate(`/book/recipes/${id}`);
      }}
    />
  );
}
