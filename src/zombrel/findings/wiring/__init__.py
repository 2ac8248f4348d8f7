"""Rules about wires, feeds, fuses, joints and grounds: where a finding says what to rewire."""
