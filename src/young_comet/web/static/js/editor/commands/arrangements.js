// Commands on arrangements: making them, going to them, who is there.

const arranged = ["arrangements"];

export const ARRANGEMENTS = [
  {
    id: "arrangement-add",
    label: "Arrangement of what stands at the playhead",
    keys: "Alt+Shift+A",
    run: ({ editor }) => editor.arranging.add(),
  },
  {
    id: "arrangement-keys",
    label: "Arrangement of the keys at the playhead",
    run: ({ editor }) => editor.arranging.add({ take_keys: true }),
  },
  {
    id: "arrangement-before",
    label: "To the arrangement before",
    keys: "Alt+Shift+Up",
    needs: arranged,
    run: ({ editor }) => editor.arranging.goBy(-1),
  },
  {
    id: "arrangement-after",
    label: "To the arrangement after",
    keys: "Alt+Shift+Down",
    needs: arranged,
    run: ({ editor }) => editor.arranging.goBy(1),
  },
  {
    id: "arrangement-out",
    label: "Leave the selected layers out of this arrangement, or put them in",
    menu: "In this arrangement, or not",
    keys: "Alt+Shift+O",
    needs: ["arrangements", "layers"],
    run: ({ editor }) => {
      const { arranging } = editor;
      const { here } = arranging;
      const there = editor.selectedLayers.every((layer) => arranging.of(layer.id)?.there.includes(here.id));
      arranging.stand(!there);
    },
  },
  {
    id: "arrangement-same",
    label: "The selected layers the same in all arrangements as here",
    needs: ["arrangements", "layers"],
    run: ({ editor }) => editor.arranging.sameInAll(),
  },
  {
    id: "arrangement-all",
    label: "Work in all arrangements at once, or in one",
    needs: arranged,
    run: ({ editor }) => editor.arranging.workInAll(!editor.arranging.all),
  },
  {
    id: "arrangement-delete",
    label: "Delete this arrangement",
    needs: arranged,
    run: ({ editor }) => editor.arranging.remove(),
  },
  {
    id: "arrangements-to-keys",
    label: "Turn all arrangements into keys",
    needs: arranged,
    run: ({ editor }) => editor.arranging.edit("arrangements-to-keys"),
  },
];
