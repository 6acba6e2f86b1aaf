# frozen_string_literal: true

require "countries"
require "holidays"

module Yenvo
  module Core
    # The regions whose public holidays are known (the holidays gem's), by name: the country and, where holidays differ
    # within it, its part (names from ISO 3166, the countries gem).
    module HolidayRegions
      Region = Value.define(:key, :name)

      module_function

      # @return [Array<Region>] by name
      def all = @all ||= Holidays.available_regions.filter_map { |key| named(key.to_s) }.sort_by(&:name).freeze

      # @param key [Object]
      def known?(key) = all.any? { |region| region.key == key }

      # Exchanges, banks and carriers, whose days the gem knows too, are no places.
      def named(key)
        country, *part = key.split("_")
        place = (country.size == 2) ? ISO3166::Country[country] : nil
        Region.new(key:, name: [place.common_name, *part_name(place, part)].join(", ")) if place
      end

      def part_name(place, part)
        return [] if part.empty?

        words = ["#{place.alpha2.downcase}_#{part[0]}", part[0]].filter_map { |key| PARTS[key] }.first
        words ||= place.subdivisions[part[0].upcase]&.name&.sub(/ \(\w\w\)\z/, "") || part[0].upcase
        [words, *part.drop(1).map { |word| PARTS.fetch(word, word.capitalize) }]
      end
      # Parts that ISO 3166 does not number.
      PARTS = {
        "be_fr" => "in French", "be_nl" => "in Dutch", "bg_bg" => "in Bulgarian", "bg_en" => "in English",
        "mt_en" => "in English", "mt_mt" => "in Maltese", "rs_cyrl" => "in Cyrillic letters",
        "rs_la" => "in Latin letters", "cath" => "where most are Catholic", "sorbian" => "where Sorbian is spoken",
        "fr_a" => "Alsace", "fr_m" => "Moselle", "gb_con" => "Cornwall", "gb_eaw" => "England and Wales",
        "gb_gsy" => "Guernsey", "gb_iom" => "Isle of Man", "gb_jsy" => "Jersey", "nz_ak" => "Auckland",
        "nz_ca" => "Canterbury", "nz_ch" => "Chatham Islands", "nz_hb" => "Hawke's Bay", "nz_mb" => "Marlborough",
        "nz_ne" => "Nelson", "nz_nl" => "Northland", "nz_ot" => "Otago", "nz_sc" => "South Canterbury",
        "nz_sl" => "Southland", "nz_ta" => "Taranaki", "nz_we" => "Wellington", "nz_wl" => "Westland",
        "pt_li" => "Lisboa", "pt_po" => "Porto"
      }.freeze
      private_constant :PARTS
      private_class_method :named, :part_name
    end
  end
end
