"""What every room's API shares: quantities as typed, words with measures, the one shape of a refusal."""
