// Edits of a layer's members (masks, effects, moves, parts) as the server takes them.

export const addMembers = (editor, family, layers, members) => ({
  kind: "add-members",
  family,
  scene: editor.sceneId,
  layers,
  members,
});

export const removeMembers = (editor, family, layer, members) => ({
  kind: "remove-members",
  family,
  scene: editor.sceneId,
  layer,
  members,
});

/** Fields of a member, or (`index`) its place in the order. */
export const changeMember = (editor, family, layer, member, set, index = null) => ({
  kind: "change-member",
  family,
  scene: editor.sceneId,
  layer,
  member,
  set,
  index,
});

export const copyMembers = (editor, family, layer, members, targets) => ({
  kind: "copy-members",
  family,
  scene: editor.sceneId,
  layer,
  members,
  targets,
});
