# frozen_string_literal: true

require "yenvo/engine"
require_relative "yard"
require_relative "kept"
require_relative "story"
require_relative "this_week"

# The demo data. All of it is invented.
module Demo
  RULES = File.join(__dir__, "rules")
  KITS = File.join(__dir__, "kits")
  # Two letters in an ink, by which the tasks of some are told apart.
  MARKS = {
    "Launch" => %w[LA sea], "Large-boat survey" => %w[LS blue], "New berth holder" => %w[BH leaf],
    "Gear round" => %w[GR rust], "Lost deal tidy-up" => %w[LO plum], "Winter lay-up" => %w[WL slate],
    "Survey booked: get the boat ready" => %w[SB pine], "Reported snag: look at it" => %w[SN red]
  }.freeze

  module_function

  # Loads the yard into an empty database: set-up, rules, and the story so far. The six months are put back as they were
  # lived once; the last days are lived anew.
  # @param root [Yenvo::Store::Root]
  # @param now [Time]
  # @param bare [Boolean] only people, kinds of records and fields
  def load(root, now:, bare: false)
    if bare
      Yard.new(root, today: day_of(now)).set_up(now: begins(now))
      return root.moved_clock.allow
    end

    # One that was made from other rules or tables does not fit; better to wait than to see what is not so.
    since = Kept.fits? ? Kept.new(root).put_back(now:) : six_months(root, now:)
    Yard.new(root, today: day_of(now)).lay_out_around_today
    root.forget
    ThisWeek.new(root, now:, since:, passing: passing(root)).live
    look_at_bell(root, now)
    root.worked_out.reindex(root.db[:records].select_map(:id), now)
  end

  # Lives the six months up to a Monday morning, and keeps them.
  # @param root [Yenvo::Store::Root] of an empty database
  # @param now [Time] in the week of that Monday
  def keep(root, now:) = Kept.new(root).write(at: six_months(root, now:))

  # Lives the six months, which takes some minutes.
  # @return [Time] the Monday morning at which they end
  def six_months(root, now:)
    monday = monday_of(now)
    Yard.new(root, today: day_of(monday)).set_up(now: begins(monday), outside: true)
    root.moved_clock.allow
    publish_kits(root, at: begins(monday) + 30)
    publish_rules(root, at: begins(monday) + 60)
    mark(root)
    Story.new(root, now: monday, passing: passing(root)).live
    monday
  end

  # Papers are left to the worker that starts after it.
  def passing(root)
    log, clock = SemanticLogger["Demo"], Yenvo::Engine::Passing::Hand.new(Time.at(0).utc)
    worker = Yenvo::Engine::Worker.new(root, clock:, log:, papers: 0)
    Yenvo::Engine::Passing.new(root, clock:, worker:, log:)
  end

  def day_of(now) = Date.parse(Time.at(now).utc.strftime("%F"))
  def begins(now) = now - ((Story::DAYS + 4) * 86_400)

  # @return [Time] six in the morning of that week's Monday
  def monday_of(now)
    zone = Yenvo::Core::Zone.new(Yenvo::Store::HousePlan.file(Yard::SOURCE)["settings"]["zone"])
    day = zone.date_of(now)
    zone.at(day - ((day.wday - 1) % 7), 360)
  end

  # People have looked at the bell until lately.
  def look_at_bell(root, now)
    lately = now - (2 * 86_400)
    root.db[:notices].where { at < lately }.update(read_at: lately)
  end

  # Publishes every kit file, those first that others open.
  def publish_kits(root, at:)
    cause = Yenvo::Store::Journal::Cause.person("maren", at)
    Dir[File.join(KITS, "*.yml")].sort.each do |path|
      kit = Yenvo::Core::Kits::KitFile.parse(File.read(path))
      row = root.kits.make(kit, cause:)
      root.kits.publish(row[:id], kit, cause:)
    end
  end

  def mark(root)
    [root.rules, root.kits].each do |all|
      all.all.each { |row| all.set_mark(row[:id], *MARKS[row[:name]]) if MARKS[row[:name]] }
    end
  end

  # Publishes every rule file; those ending in .draft.yml stay drafts.
  def publish_rules(root, at:)
    cause = Yenvo::Store::Journal::Cause.person("maren", at)
    Dir[File.join(RULES, "*.yml")].sort.each do |path|
      rule = Yenvo::Core::RuleFile.parse(File.read(path))
      row = root.rules.make(rule, cause:)
      root.rules.publish(row[:id], rule, cause:) unless path.end_with?(".draft.yml")
    end
  end
end
