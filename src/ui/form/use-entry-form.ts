import { useState } from 'react';
import { zodResolver } from '@hookform/resolvers/zod';
import { useForm, type DefaultValues, type FieldValues, type Path, type Resolver } from 'react-hook-form';
import type * as z from 'zod';
import { partsOf } from '../../contract/address';
import type { EndpointName } from '../../contract/endpoints';
import { askServer, type Progress, type ServerRefusal } from '../ask-server';

type Sending = {
  to: EndpointName;
  /** The id in its address. */ id?: string;
  /** The version that is changed, as it was seen. */ seen?: string | undefined;
};

/**
 * A form whose fields hold what was typed. The schema turns that into what is sent and says at its field what is wrong; what the
 * server refuses is told at its field too. Nothing typed is lost by a refusal.
 * @param schemaFor the schema of the form as it stands; it may depend on what was chosen
 */
export function useEntryForm<V extends FieldValues, E, A = { id: string }>(
  defaultValues: V,
  schemaFor: (values: V) => z.ZodType<E>,
  { to, id, seen }: Sending,
  onDone: (answer: A) => void,
  {
    isCleared = false,
    onProgress,
    signal,
  }: {
    /** Whether the fields are empty again once it is sent. */ isCleared?: boolean;
    /** Told how far something long has come. */ onProgress?: (progress: Progress) => void;
    /** Made anew for each sending; giving up ends it. */ signal?: () => AbortSignal;
  } = {},
) {
  const [refusal, setRefusal] = useState<ServerRefusal | null>(null);
  const resolver: Resolver<V, unknown, E> = (values, context, options) =>
    zodResolver(schemaFor(values) as z.ZodType<E, V>)(values, context, options) as ReturnType<Resolver<V, unknown, E>>;
  const form = useForm<V, unknown, E>({
    defaultValues: defaultValues as DefaultValues<V>,
    resolver,
    // One that is empty again once it is sent says nothing of that when it is left.
    mode: isCleared ? 'onSubmit' : 'onTouched',
  });
  /** @param more members beside what was typed, by the refusal of the time before */
  const send = (more: (before: ServerRefusal | null) => object = () => ({})) =>
    form.handleSubmit(
      async (entry) => {
        const { method, address } = partsOf(to, id);
        const answer = await askServer<A>(
          method,
          address,
          { ...(entry as object), ...more(refusal) },
          { seen, ...(onProgress ? { onProgress } : {}), ...(signal ? { signal: signal() } : {}) },
        );
        if (answer.ok) {
          setRefusal(null);
          if (isCleared) form.reset();
          return onDone(answer.body);
        }
        setRefusal(answer.refusal);
        if (answer.refusal.path.length)
          form.setError(answer.refusal.path.join('.') as Path<V>, { message: answer.refusal.message }, { shouldFocus: true });
      },
      () => setRefusal(null),
    );
  return { form, refusal, send };
}
