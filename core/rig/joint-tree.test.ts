import { expect } from 'chai';
import { listJointsBelow, listJointTree } from './index.ts';

/** 0 hangs on 5: later in the file than its child. 3 is no joint, between 1 and 4. */
const skeleton = { parents: Int32Array.of(5, 0, 0, 1, 3, -1, -1) };
const JOINTS = [4, 2, 1, 0, 5];

describe('joints as they hang', () => {
  it('come each before those below it, over what is no joint, wherever they stand in the file', () => {
    expect(listJointTree(skeleton, JOINTS)).deep.equal([
      { node: 5, depth: 0 },
      { node: 0, depth: 1 },
      { node: 1, depth: 2 },
      { node: 4, depth: 3 },
      { node: 2, depth: 2 },
    ]);
  });

  it('have several tops when nothing joins them, and each stands once', () => {
    expect(listJointTree(skeleton, [2, 4, 2]).map(({ node, depth }) => [node, depth])).deep.equal([
      [2, 0],
      [4, 0],
    ]);
    expect(listJointTree(skeleton, [])).deep.equal([]);
  });

  it('take along what hangs on them', () => {
    expect(listJointsBelow(skeleton, JOINTS, 1)).have.members([1, 4]);
    expect(listJointsBelow(skeleton, JOINTS, 5)).have.members(JOINTS);
    expect(listJointsBelow(skeleton, JOINTS, 2)).deep.equal([2]);
  });
});
