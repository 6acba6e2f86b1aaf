# frozen_string_literal: true

# Rules that time wakes, in few words, and what came of their timers.
module TimerWords
  def rule(trigger, *actions, **more) = super(trigger, *(actions.empty? ? [task("Now")] : actions), **more)

  def date_timer(count, unit, from, direction: "before", **more) =
    {
      "when" => "date_timer",
      "date" => {"count" => count, "unit" => unit, "direction" => direction, "from" => from}.merge(
        more.transform_keys(&:to_s)
      )
    }

  def quiet(*kinds, days: 5, **more) =
    {"when" => "quiet_timer", "nothing" => kinds, "span" => {"count" => days, "unit" => "working_days"}}.merge(
      more.transform_keys(&:to_s)
    )

  def schedule(recurs, **more) =
    {"when" => "schedule", "recurs" => recurs, "starts" => "2026-01-01", "at" => "08:00"}.merge(
      more.transform_keys(&:to_s)
    )

  # Titles with the local moment at which they were made.
  def made =
    db[:tasks].order(:id)
      .map { |row| "#{row[:title]} #{root.calendar.zone.local(row[:made_at]).strftime("%-d %b %H:%M")}" }

  def fired = db[:journal].where(what: "timer_fired").order(:id).map { |row| JSON.parse(row[:detail]) }

  def dues =
    db[:timers].exclude(due_at: nil).order(:due_at)
      .map { |row| root.calendar.zone.local(row[:due_at]).strftime("%-d %b %H:%M") }
end
