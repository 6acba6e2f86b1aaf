# frozen_string_literal: true

require "yenvo/engine"
require_relative "yard"
require_relative "story"

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

  # Loads the yard into an empty database: set-up, rules, and the story so far.
  # @param root [Yenvo::Store::Root]
  # @param now [Time]
  # @param bare [Boolean] only people, kinds of records and fields
  def load(root, now:, bare: false)
    today = Date.parse(Time.at(now).utc.strftime("%F"))
    start = now - ((Story::DAYS + 4) * 86_400)
    Yard.new(root, today: today).set_up(now: start)
    root.moved_clock.allow
    return if bare

    publish_kits(root, at: start + 30)
    publish_rules(root, at: start + 60)
    mark(root)
    Story.new(root, now: now, passing: Yenvo::Engine::Passing.new(root, log: SemanticLogger["Demo"])).live
    # People have looked at the bell until lately.
    lately = now - (2 * 86_400)
    root.db[:notices].where { at < lately }.update(read_at: lately)
  end

  # Publishes every kit file, those first that others open.
  def publish_kits(root, at:)
    cause = Yenvo::Store::Journal::Cause.person("maren", at)
    Dir[File.join(KITS, "*.yml")].sort.each do |path|
      kit = Yenvo::Core::Kits::KitFile.parse(File.read(path))
      row = root.kits.make(kit, cause: cause)
      root.kits.publish(row[:id], kit, cause: cause)
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
      row = root.rules.make(rule, cause: cause)
      root.rules.publish(row[:id], rule, cause: cause) unless path.end_with?(".draft.yml")
    end
  end
end
