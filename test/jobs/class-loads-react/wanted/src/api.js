export async function loadVisits(hive) {
  const answer = await fetch(`/visits?hive=${hive}`);
  if (!answer.ok) throw new Error('no visits');
  return answer.json();
}
