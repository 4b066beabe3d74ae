import { KeptProblem, KeptWord } from '../ui/Kept';

interface Versioned<Sheet> {
  version: number;
  sheet: Sheet;
}

interface SheetKeptProps<Sheet> {
  keeping: {
    isKeeping: boolean;
    error: Error | null;
    keepOver: (edit: Versioned<Sheet>, version: number) => Promise<boolean>;
  };
  edit: Versioned<Sheet>;
  isChanged: boolean;
  takeTheirs: (theirs: Versioned<Sheet>) => void;
}

/** Whether a sheet is kept, and what stands against it. */
export function SheetKept<Sheet>({ keeping, edit, isChanged, takeTheirs }: SheetKeptProps<Sheet>) {
  return (
    <>
      <KeptProblem
        error={keeping.error}
        edit={edit}
        keepMine={(version) => void keeping.keepOver(edit, version)}
        takeTheirs={takeTheirs}
      />
      <p className="mt-1">
        <KeptWord isKeeping={keeping.isKeeping} isChanged={isChanged} />
      </p>
    </>
  );
}
