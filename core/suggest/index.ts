export { type BodySkin, gatherBodySkin } from './body-skin.ts';
export { BodyChooser, type ChoiceGoal, type TriedSet, toCollision } from './choose-bodies.ts';
export { countBodiesTried, type FoundSet, listFoundSets, type SuggestionStep } from './found-sets.ts';
export { type Candidate, listCandidates, type PlacedShape, type SuggestedKind } from './list-candidates.ts';
export { type Demand, measureDemands } from './measure-demand.ts';
export { measureReach } from './measure-reach.ts';
export { playThrough } from './play-through.ts';
export { BodySuggestion, type SuggestionRequest, toBodyRecords } from './suggestion.ts';
