import { useQuery, type UseQueryResult } from '@tanstack/react-query';
import { answered, api, type Schema } from '../kit/client';
import { Choices } from '../kit/Choices';
import { showLength, withUnit, type ShopUnits } from '../kit/units';

export type Tool = Schema['SizeInstrument'];

/** What sizes are read with here: the shop's own instruments, each as the hand that is signed on repeats it. */
export function useTools(): UseQueryResult<Tool[]> {
  return useQuery({
    queryKey: ['instruments', 'sizes'],
    queryFn: () => answered(api.GET('/api/size-instruments')),
  });
}

/** The instrument of that name; the first where it is not there any more. */
export const toolOf = (tools: readonly Tool[], name: string | null): Tool | null =>
  tools.find((t) => t.name === name) ?? tools[0] ?? null;

export function ReadWith({
  tools,
  name,
  units,
  onChoose,
}: {
  tools: readonly Tool[];
  name: string | null;
  units: ShopUnits;
  onChoose: (name: string) => void;
}) {
  const tool = toolOf(tools, name);
  if (!tool) return null;
  const checked = tool.last_check
    ? `checked ${new Date(tool.last_check).toLocaleDateString()}`
    : 'typical, not checked';
  return (
    <div>
      <Choices
        label="Read with"
        value={tool.name}
        choices={tools.map((t) => ({ value: t.name, label: t.name }))}
        onChoose={onChoose}
      />
      <p className="soft">
        ± {withUnit(showLength(tool.u_mm, units))}, one sigma, {checked}.
      </p>
    </div>
  );
}
